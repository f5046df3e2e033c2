/** Serves folders by the built program's preview, and reads what it shows over pages. */
import { type ChildProcess, spawn } from 'node:child_process';
import type { Page } from 'playwright-core';
import { BIN, type Folder, STATE } from '../cli/estrade.js';

const running: ChildProcess[] = [];

/** Ends all previews that were started. */
export function stopServing(): void {
  for (const each of running.splice(0)) each.kill('SIGKILL');
}

/** Starts the preview of a folder. @returns its address, without the last slash, and its process */
export async function served(folder: Folder, options: string[] = []): Promise<{ url: string; child: ChildProcess }> {
  const child = spawn(process.execPath, [BIN, 'preview', ...options], {
    cwd: folder.path,
    env: { PATH: process.env.PATH, XDG_STATE_HOME: STATE },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  running.push(child);
  let told = '';
  for await (const part of child.stdout) {
    told += String(part);
    const url = /Serving (\S+)\//.exec(told)?.[1];
    if (url !== undefined) return { url, child };
  }
  throw new Error(`the preview ended: ${told}`);
}

/** All text of the layer over a page, which is in a closed shadow tree; '' where there is none. */
export async function layerText(shown: Page): Promise<string> {
  const session = await shown.context().newCDPSession(shown);
  interface Node {
    nodeName: string;
    nodeValue: string;
    children?: Node[];
    shadowRoots?: Node[];
  }
  const { root } = (await session.send('DOM.getDocument', { depth: -1, pierce: true })) as { root: Node };
  await session.detach();
  const below = (node: Node): Node[] => [
    node,
    ...[...(node.children ?? []), ...(node.shadowRoots ?? [])].flatMap(below),
  ];
  const layer = below(root).find(({ nodeName }) => nodeName === 'ESTRADE-LAYER');
  return layer === undefined
    ? ''
    : below(layer)
        .map(({ nodeValue }) => nodeValue)
        .join('\n');
}

/** How long an answer is waited for, in milliseconds: much longer than any takes. */
const PATIENCE = 90_000;

/** Asks until the answer passes. @throws Error with the last answer where none does */
export async function until<T>(ask: () => Promise<T>, passes: (answer: T) => boolean): Promise<T> {
  const end = Date.now() + PATIENCE;
  let last: unknown;
  while (Date.now() < end) {
    try {
      const answer = await ask();
      if (passes(answer)) return answer;
      last = answer;
    } catch (error) {
      last = error;
    }
    await new Promise((done) => setTimeout(done, 20));
  }
  throw new Error(`waited in vain for ${passes.toString()}`, { cause: last });
}
