/** Serves a project that is edited: pages expanded, other files as they are, and word of each change to pages that are open. */
import { watch } from 'chokidar';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { type AddressInfo } from 'node:net';
import { relative } from 'node:path';
import type { Duplex } from 'node:stream';
import { WebSocketServer, type WebSocket } from 'ws';
import { COMPARE_PATH, type Message, OWN } from '../browser/messages.js';
import { Problem } from '../core/errors.js';
import { toPosix } from '../workspace/files.js';
import { answer, type Answering, isFromHere, isLocal, refuse } from './answers.js';
import { type Foresee } from './foreseen.js';
import { LiveSite, type LivePage } from './live-site.js';

export interface Serving {
  /** 0 for a free one */
  port: number;
  host: string;
  scripts: Answering['scripts'];
  foresee: Foresee;
  /** folder or commit that pages are compared with; null for how they were before they were lifted */
  against: string | null;
}

export interface Served {
  url: string;
  /** address of the page that shows pages before and after */
  compareUrl: string;
  close: () => Promise<void>;
}

/** A page that is open in a browser. */
interface Open {
  socket: WebSocket;
  path: string;
  shown: Pick<LivePage, 'version' | 'parts'>;
}

/** Milliseconds in which changes of files are taken as one: editors write in several steps. */
const TOGETHER = 15;

/** Starts to serve, and to watch. @throws Problem where the project, what it is compared with, or the port cannot be had */
export async function servePreview(cwd: string, serving: Serving): Promise<Served> {
  const { port, host, scripts, foresee, against } = serving;
  const site = await LiveSite.open(cwd, { foresee, against });
  const open = new Set<Open>();
  const servers = { now: createServer(), before: createServer() };
  const sockets = new WebSocketServer({ noServer: true, maxPayload: 10_000 });
  const ports = { now: await listening(servers.now, port, host), before: await listening(servers.before, 0, host) };
  for (const version of ['now', 'before'] as const)
    servers[version].on('request', (request: IncomingMessage, response: ServerResponse) => {
      answer({ site, host, scripts, ports, version }, request, response).catch((error: unknown) => {
        refuse(response, 500, error instanceof Error ? error.message : 'something went wrong');
      });
    });
  servers.now.on('upgrade', (request: IncomingMessage, socket: Duplex, head: Buffer) => {
    if (!isLocal(request, host) || !isFromHere(request) || request.url !== `${OWN}/changes`) return socket.destroy();
    sockets.handleUpgrade(request, socket, head, (opened) => keepTold(site, open, opened));
  });
  const stopWatching = await watching(site, (paths) => tellChanges(site, open, paths));
  const origin = `http://${host.includes(':') ? `[${host}]` : host}:${ports.now}`;
  return {
    url: `${origin}/`,
    compareUrl: `${origin}${COMPARE_PATH}`,
    close: async () => {
      await stopWatching();
      for (const { socket } of open) socket.terminate();
      await Promise.all(Object.values(servers).map(closed));
    },
  };
}

function closed(server: Server): Promise<unknown> {
  return new Promise((done) => {
    server.close(done);
    server.closeAllConnections();
  });
}

/** @returns the port that it listens to */
function listening(server: Server, port: number, host: string): Promise<number> {
  return new Promise((done, fail) => {
    server.once('error', ({ code, message }: NodeJS.ErrnoException) => {
      const why = code === 'EADDRINUSE' ? 'something else listens there' : message;
      fail(
        new Problem(`port ${port} of ${host} cannot be had: ${why}`, {
          hint: 'name another one with --port, or none for a free one',
        }),
      );
    });
    server.listen(port, host, () => done((server.address() as AddressInfo).port));
  });
}

/** Keeps a page in mind that is open from now on, and tells it when it is not the newest. */
function keepTold(site: LiveSite, open: Set<Open>, socket: WebSocket): void {
  socket.on('error', () => socket.terminate());
  socket.once('message', (data: Buffer) => {
    const [version, path] = data.toString().split(/ (.*)/s);
    if (path === undefined || !site.isPage(path)) return socket.close();
    const now = site.pageAt(path);
    const kept: Open = { socket, path, shown: now };
    open.add(kept);
    socket.once('close', () => open.delete(kept));
    // what is wrong may have changed since the page was sent
    if (now.version !== version) tell(socket, { kind: 'reload' });
    else tell(socket, { kind: 'troubles', troubles: now.troubles });
  });
}

function tell(socket: WebSocket, message: Message): void {
  socket.send(JSON.stringify(message));
}

/** Tells each page that is open what changed for it. */
async function tellChanges(site: LiveSite, open: ReadonlySet<Open>, paths: readonly string[]): Promise<void> {
  const { touches, styles, assets } = await site.update(paths);
  for (const each of open) {
    if (assets || !site.isPage(each.path)) {
      tell(each.socket, { kind: 'reload' });
      continue;
    }
    if (styles) tell(each.socket, { kind: 'styles' });
    if (!touches(each.shown)) continue;
    const now = site.pageAt(each.path);
    const isOther = now.version !== each.shown.version;
    each.shown = now;
    // what is wrong is shown over the page as it was
    if (now.troubles.length > 0 || !isOther) tell(each.socket, { kind: 'troubles', troubles: now.troubles });
    else tell(each.socket, { kind: 'reload' });
  }
}

/** Watches the project, but for what tools keep. @returns what ends it */
async function watching(site: LiveSite, changed: (paths: string[]) => Promise<void>): Promise<() => Promise<void>> {
  const { root } = site;
  const isHidden = (path: string) =>
    toPosix(relative(root, path))
      .split('/')
      .some((name) => name === 'node_modules' || (name.startsWith('.') && name !== '.well-known'));
  const watcher = watch(root, { ignored: isHidden, ignoreInitial: true });
  const waiting = new Set<string>();
  let work = Promise.resolve();
  let timer: NodeJS.Timeout | undefined;
  watcher.on('all', (_event, path) => {
    waiting.add(toPosix(relative(root, path)));
    clearTimeout(timer);
    timer = setTimeout(() => {
      const paths = [...waiting];
      waiting.clear();
      // one after the other, in their order
      work = work.then(() => changed(paths)).catch((error: unknown) => process.emitWarning(error as Error));
    }, TOGETHER);
  });
  await new Promise<void>((done) => watcher.once('ready', () => done()));
  return async () => {
    clearTimeout(timer);
    await watcher.close();
    await work;
  };
}
