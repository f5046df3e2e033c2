/** `preview`: the expanded site in a browser, as it is edited. */
import type { Command } from 'commander';
import type { Foreseen } from '../preview/foreseen.js';
import { dim, green } from '../terminal/style.js';
import { browserScript } from '../verify/browser.js';
import { wholeBetween } from './options.js';
import { print } from './printing.js';

interface Options {
  port: number;
  host: string;
  against?: string;
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
    .option('--against <folder-or-commit>', 'compare with the pages there, not with those before they were lifted')
    .addHelpText('after', '\nExample:\n  estrade preview --port 8080')
    .action(async ({ port, host, against }: Options) => {
      const cwd = process.cwd();
      const { servePreview } = await import('../preview/server.js');
      const { url, compareUrl, close } = await servePreview(cwd, {
        port,
        host,
        scripts: { preview: browserScript('preview'), compare: browserScript('compare') },
        foresee: () => foresee(cwd),
        against: against ?? null,
      });
      print(`${green('Serving')} ${url}`);
      print(dim(`Before and after: ${compareUrl}`));
      print(dim('Alt+Shift+E on a page shows its components. Pages follow each edit. Ctrl+C ends it.'));
      await interrupted();
      await close();
    });
}

/** The site with what is recommended lifted, as a survey of it would say now. */
async function foresee(cwd: string): Promise<Foreseen> {
  const [{ surveyProject }, { plannedSite }, { findingText }] = await Promise.all([
    import('../operations/survey.js'),
    import('../operations/planned.js'),
    import('./surveyed.js'),
  ]);
  const surveyed = await surveyProject(cwd, [], {});
  const fresh = surveyed.findings.filter(
    ({ recommended, blocked, component }) => recommended && blocked === null && component === null,
  );
  const planned = plannedSite(surveyed, fresh);
  return {
    registry: planned.plan.registry,
    pages: new Map(planned.pages.map((source, i) => [source.path, { source, expanded: planned.expanded[i]! }])),
    findings: new Map(
      fresh.map((finding) => [finding.name, { told: findingText(finding), command: `estrade lift ${finding.name}` }]),
    ),
  };
}

/** Waits until the user ends the program. */
function interrupted(): Promise<void> {
  return new Promise((done) => {
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => done());
  });
}
