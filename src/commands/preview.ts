/** `preview`: the expanded site in a browser, as it is edited. */
import type { Command } from 'commander';
import { browserScript } from '../verify/browser.js';
import { dim, green } from '../terminal/style.js';
import { print, wholeBetween } from './context.js';

interface Options {
  port: number;
  host: string;
}

export function define(program: Command): void {
  program
    .command('preview')
    .description('serve the expanded site on this machine; open pages follow each edit')
    .option('--port <n>', 'where to listen (default: a free port)', wholeBetween(1, 65535), 0)
    .option(
      '--host <address>',
      'another address than this machine’s own; who can reach it can read the site',
      '127.0.0.1',
    )
    .addHelpText('after', '\nExample:\n  estrade preview --port 8080')
    .action(async ({ port, host }: Options) => {
      const { servePreview } = await import('../preview/server.js');
      const { url, close } = await servePreview(process.cwd(), { port, host, script: browserScript('preview') });
      print(`${green('Serving')} ${url}`);
      print(dim('Pages follow each edit of pages, components, stylesheets and data. Ctrl+C ends it.'));
      await interrupted();
      await close();
    });
}

/** Waits until the user ends the program. */
function interrupted(): Promise<void> {
  return new Promise((done) => {
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => done());
  });
}
