/** Serves a project that is edited: pages expanded, other files as they are, and word of each change to pages that are open. */
import { watch } from 'chokidar';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { type AddressInfo } from 'node:net';
import { networkInterfaces } from 'node:os';
import { relative } from 'node:path';
import send from 'send';
import { WebSocketServer, type WebSocket } from 'ws';
import { OFFSET_ATTRIBUTE, withOffsets } from '../core/component/trace.js';
import { Problem } from '../core/errors.js';
import { headOffset } from '../core/page/head.js';
import { type Page, parsePage } from '../core/page/parse.js';
import { realPlace, toPosix } from '../workspace/files.js';
import { JOURNAL } from '../workspace/journal.js';
import { type Message, OWN, type StartedPage } from '../browser/messages.js';
import { LiveSite, type LivePage } from './live-site.js';
import { listPage } from './pages.js';

export interface Serving {
  /** 0 for a free one */
  port: number;
  host: string;
  /** the script that runs in pages */
  script: string;
}

export interface Served {
  url: string;
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

/** Starts to serve, and to watch. @throws Problem where the project or the port cannot be had */
export async function servePreview(cwd: string, { port, host, script }: Serving): Promise<Served> {
  const site = await LiveSite.open(cwd);
  const open = new Set<Open>();
  const server = createServer((request, response) => {
    answer({ site, host, script }, request, response).catch((error: unknown) => {
      refuse(response, 500, error instanceof Error ? error.message : 'something went wrong');
    });
  });
  const sockets = new WebSocketServer({ noServer: true, maxPayload: 10_000 });
  server.on('upgrade', (request, socket, head) => {
    if (!isLocal(request, host) || !isFromHere(request) || request.url !== `${OWN}/changes`) return socket.destroy();
    sockets.handleUpgrade(request, socket, head, (opened) => keepTold(site, open, opened));
  });
  await listening(server, port, host);
  const stopWatching = await watching(site, (paths) => tellChanges(site, open, paths));
  const { port: own } = server.address() as AddressInfo;
  return {
    url: `http://${host.includes(':') ? `[${host}]` : host}:${own}/`,
    close: async () => {
      await stopWatching();
      for (const { socket } of open) socket.terminate();
      await new Promise((done) => {
        server.close(done);
        server.closeAllConnections();
      });
    },
  };
}

function listening(server: Server, port: number, host: string): Promise<void> {
  return new Promise((done, fail) => {
    server.once('error', ({ code, message }: NodeJS.ErrnoException) => {
      const why = code === 'EADDRINUSE' ? 'something else listens there' : message;
      fail(
        new Problem(`port ${port} of ${host} cannot be had: ${why}`, {
          hint: 'name another one with --port, or none for a free one',
        }),
      );
    });
    server.listen(port, host, () => done());
  });
}

/** Whether a request was meant for this server: its host is a name of what it listens to, whoever sent it. */
function isLocal({ headers }: IncomingMessage, host: string): boolean {
  const name = (headers.host ?? '').replace(/:\d+$/, '').replace(/^\[(.*)\]$/, '$1');
  const isEverywhere = host === '0.0.0.0' || host === '::';
  const own = isEverywhere
    ? Object.values(networkInterfaces()).flatMap((all = []) => all.map(({ address }) => address))
    : [];
  return ['127.0.0.1', 'localhost', '::1', host.toLowerCase(), ...own].includes(name.toLowerCase());
}

/** False for what a page of another site sent. */
function isFromHere({ headers: { origin, host } }: IncomingMessage): boolean {
  return origin === undefined || origin === `http://${host ?? ''}`;
}

interface Answering {
  site: LiveSite;
  host: string;
  script: string;
}

/** Answers one request. */
async function answer(
  { site, host, script }: Answering,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  if (!isLocal(request, host)) {
    refuse(response, 403, 'This address is not one of the preview.');
    return;
  }
  if (request.method !== 'GET' && request.method !== 'HEAD') {
    refuse(response, 405, 'The preview only answers GET.');
    return;
  }
  response.setHeader('Cache-Control', 'no-store');
  response.setHeader('X-Content-Type-Options', 'nosniff');
  response.setHeader('Cross-Origin-Resource-Policy', 'same-origin');
  response.setHeader('Content-Security-Policy', "frame-ancestors 'self'");
  if (request.url?.startsWith(`${OWN}/instances?`) === true) {
    sendInstances(site, new URL(request.url, 'http://localhost').searchParams, response);
    return;
  }
  const path = sitePath(request.url ?? '/');
  if (path === null || !isInside(site.root, path)) {
    refuse(response, 404, 'There is no such file.');
    return;
  }
  const page = [path, `${path}index.html`.replace(/^\//, '')].find((each) => site.isPage(each));
  if (page !== undefined && (page === path || path === '' || path.endsWith('/'))) {
    sendPage(site.pageAt(page), script, request, response);
    return;
  }
  if (site.isPage(`${path}/index.html`)) {
    response.writeHead(302, { Location: `${urlOf(path)}/` }).end();
    return;
  }
  const sheet = path.endsWith('.css') ? await site.stylesheetAt(path) : null;
  if (sheet !== null) {
    response.writeHead(200, { 'Content-Type': 'text/css', 'Content-Length': sheet.length });
    response.end(request.method === 'HEAD' ? undefined : sheet);
    return;
  }
  const options = {
    root: site.root,
    dotfiles: 'allow',
    cacheControl: false,
    etag: false,
    lastModified: false,
    index: false,
  } as const;
  send(request, urlOf(path), options)
    .on('error', () => sendList(site, path, response))
    .on('directory', () => sendList(site, path, response))
    .pipe(response);
}

/** Answers which components a page is made of; nothing where it is another page by now. */
function sendInstances(site: LiveSite, asked: URLSearchParams, response: ServerResponse): void {
  const path = asked.get('path') ?? '';
  const page = site.isPage(path) ? site.pageAt(path) : null;
  const isSame = page !== null && page.version === asked.get('version');
  response.writeHead(isSame ? 200 : 409, { 'Content-Type': 'application/json' });
  response.end(JSON.stringify(isSame ? page.instances() : []));
}

/** The path of a URL that names a path from the root. */
function urlOf(path: string): string {
  return `/${path.split('/').map(encodeURIComponent).join('/')}`;
}

/** The path from the root that a URL names; null for one that is none, or hidden. */
function sitePath(url: string): string | null {
  try {
    const path = decodeURIComponent(url.replace(/[?#].*$/s, '')).replace(/^\/+/, '');
    const segments = path.split('/');
    const isHidden = (name: string) => name.startsWith('.') && name !== '.well-known';
    if (/[\0\\]/.test(path) || segments.some(isHidden) || segments[0] === JOURNAL) return null;
    return path;
  } catch {
    return null;
  }
}

/** False for what a link leads out of the project to. */
function isInside(root: string, path: string): boolean {
  const own = path.replace(/\/$/, '');
  if (own === '') return true;
  try {
    const { path: real } = realPlace(root, own);
    return !real.split('/').some((name) => name.startsWith('.') && name !== '.well-known');
  } catch {
    return false;
  }
}

/** What browsers say that a page is asked for where it is to be shown. */
const OPENING = new Set(['document', 'iframe', 'frame']);

/** A page, with our script as the first thing in its head; it takes itself out before anything else is read. */
function sendPage(
  { page, encoding, encoded, version, troubles }: LivePage,
  script: string,
  request: IncomingMessage,
  response: ServerResponse,
): void {
  const isXml = page.path.endsWith('.xhtml');
  const started: StartedPage = { path: page.path, version, troubles, offsets: OFFSET_ATTRIBUTE };
  const given = JSON.stringify(started).replace(/</g, '\\u003c');
  const own = `<script>(() => {${script};preview.start(${given})})()</script>`;
  // what a script of the page fetches is as it will be built
  const purpose = request.headers['sec-fetch-dest'];
  const isOpened = purpose === undefined || OPENING.has(purpose);
  const text = isXml || !isOpened ? page.source : withOwn(page, own);
  const bytes = encoded(text);
  response.writeHead(200, {
    'Content-Type': `${isXml ? 'application/xhtml+xml' : 'text/html'}; charset=${encoding}`,
    'Content-Length': bytes.length,
  });
  response.end(request.method === 'HEAD' ? undefined : bytes);
}

/** A page with a script first in its head, and with the offsets of its elements for that script to take out. */
function withOwn(page: Page, script: string): string {
  const marked = withOffsets(page, OFFSET_ATTRIBUTE);
  const at = headOffset(parsePage(page.path, marked));
  return marked.slice(0, at) + script + marked.slice(at);
}

function sendList(site: LiveSite, path: string, response: ServerResponse): void {
  const text = listPage(path, site.pages);
  response.setHeader(
    'Content-Security-Policy',
    "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'self'",
  );
  response.writeHead(path === '' ? 200 : 404, { 'Content-Type': 'text/html; charset=utf-8' });
  response.end(text);
}

function refuse(response: ServerResponse, status: number, text: string): void {
  if (response.headersSent) return void response.end();
  response.writeHead(status, { 'Content-Type': 'text/plain; charset=utf-8', 'X-Content-Type-Options': 'nosniff' });
  response.end(`${text}\n`);
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
    if (now.version !== version) tell(socket, { kind: 'reload' });
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
