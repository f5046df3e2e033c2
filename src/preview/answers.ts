/** Answers what browsers ask of the preview: pages, other files of the site, and what is told about pages. */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { networkInterfaces } from 'node:os';
import send from 'send';
import { COMPARE_PATH, OWN, type StartedOriginal, type StartedPage } from '../browser/messages.js';
import { OFFSET_ATTRIBUTE, withOffsets } from '../core/component/trace.js';
import { headOffset } from '../core/page/head.js';
import { type Page, parsePage } from '../core/page/parse.js';
import { realPlace } from '../workspace/files.js';
import { JOURNAL } from '../workspace/journal.js';
import type { LiveSite, LivePage } from './live-site.js';
import { comparePage, listPage, urlOf } from './pages.js';

export interface Answering {
  site: LiveSite;
  host: string;
  /** scripts that run in pages, and in the page that compares */
  scripts: { preview: string; compare: string };
  /** ports of the site as it is, and as it was */
  ports: { now: number; before: number };
  /** which of them is answered for */
  version: 'now' | 'before';
}

/** Whether a request was meant for this server: its host is a name of what it listens to, whoever sent it. */
export function isLocal({ headers }: IncomingMessage, host: string): boolean {
  const name = hostName(headers.host ?? '').replace(/^\[(.*)\]$/, '$1');
  const isEverywhere = host === '0.0.0.0' || host === '::';
  const own = isEverywhere
    ? Object.values(networkInterfaces()).flatMap((all = []) => all.map(({ address }) => address))
    : [];
  return ['127.0.0.1', 'localhost', '::1', host.toLowerCase(), ...own].includes(name.toLowerCase());
}

/** What a `Host` header says without its port. */
function hostName(host: string): string {
  return host.replace(/:\d+$/, '');
}

/** False for what a page of another site sent. */
export function isFromHere({ headers: { origin, host } }: IncomingMessage): boolean {
  return origin === undefined || origin === `http://${host ?? ''}`;
}

/** Answers one request. */
export async function answer(answering: Answering, request: IncomingMessage, response: ServerResponse): Promise<void> {
  const { site, host, ports, version } = answering;
  if (!isLocal(request, host)) {
    refuse(response, 403, 'This address is not one of the preview.');
    return;
  }
  if (request.method !== 'GET' && request.method !== 'HEAD') {
    refuse(response, 405, 'The preview only answers GET.');
    return;
  }
  const origins = originsOf(request, ports);
  response.setHeader('Cache-Control', 'no-store');
  response.setHeader('X-Content-Type-Options', 'nosniff');
  response.setHeader('Cross-Origin-Resource-Policy', 'same-origin');
  response.setHeader('Content-Security-Policy', `frame-ancestors 'self' ${origins.now}`);
  const url = request.url ?? '/';
  if (version === 'now' && url.startsWith(`${OWN}/`)) return answerOwn(answering, request, response);
  const path = sitePath(url);
  if (path === null || !isInside(site.root, path)) {
    refuse(response, 404, 'There is no such file.');
    return;
  }
  const page = [path, `${path}index.html`.replace(/^\//, '')].find((each) => site.isPage(each));
  if (page !== undefined && (page === path || path === '' || path.endsWith('/'))) {
    const shown = version === 'now' ? site.pageAt(page) : site.originalPage(page);
    sendPage(shown, answering, request, response);
    return;
  }
  if (site.isPage(`${path}/index.html`)) {
    response.writeHead(302, { Location: `${urlOf(path)}/` }).end();
    return;
  }
  const sheet = path.endsWith('.css') ? await site.stylesheetAt(path, version) : null;
  if (sheet !== null) {
    sendText(sheet, 'text/css', request, response);
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

/** Origins of both versions of the site, by the name that the browser has for this machine. */
function originsOf({ headers }: IncomingMessage, { now, before }: Answering['ports']) {
  const name = hostName(headers.host ?? '');
  return { now: `http://${name}:${now}`, before: `http://${name}:${before}` };
}

/** Answers what our own scripts ask, and the page that compares. */
async function answerOwn(answering: Answering, request: IncomingMessage, response: ServerResponse): Promise<void> {
  const { site, ports, scripts } = answering;
  const { pathname, searchParams: asked } = new URL(request.url ?? '/', 'http://localhost');
  const path = asked.get('path') ?? '';
  const isKnown = site.isPage(path);
  if (pathname === COMPARE_PATH) {
    const origins = originsOf(request, ports);
    const shown = isKnown ? path : (site.pages[0] ?? '');
    const comparing = site.hasOriginals() ? { path: shown, before: origins.before, after: origins.now } : null;
    response.setHeader(
      'Content-Security-Policy',
      `default-src 'none'; style-src 'unsafe-inline'; script-src 'unsafe-inline'; frame-src ${origins.before} ${origins.now}; frame-ancestors 'self'`,
    );
    const text = comparePage(site.pages, comparing, scripts.compare);
    sendText(Buffer.from(text), 'text/html; charset=utf-8', request, response);
    return;
  }
  if (pathname === `${OWN}/rules`) {
    sendJson(200, await site.ownRules(asked.get('name') ?? ''), response);
    return;
  }
  const page = isKnown ? site.pageAt(path) : undefined;
  // it may be another page by now
  if (page?.version !== asked.get('version')) {
    sendJson(409, null, response);
    return;
  }
  if (pathname === `${OWN}/instances`) sendJson(200, site.componentsOn(page), response);
  else if (pathname === `${OWN}/findings`) sendJson(200, await site.findingsOn(page), response);
  else refuse(response, 404, 'There is no such file.');
}

function sendJson(status: number, value: unknown, response: ServerResponse): void {
  response.writeHead(status, { 'Content-Type': 'application/json' });
  response.end(JSON.stringify(value));
}

function sendText(bytes: Buffer, type: string, { method }: IncomingMessage, response: ServerResponse): void {
  response.writeHead(200, { 'Content-Type': type, 'Content-Length': bytes.length });
  response.end(method === 'HEAD' ? undefined : bytes);
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
  { scripts, ports, version: which }: Answering,
  request: IncomingMessage,
  response: ServerResponse,
): void {
  const isXml = page.path.endsWith('.xhtml');
  const comparing = originsOf(request, ports).now;
  const started: StartedPage = { path: page.path, version, troubles, offsets: OFFSET_ATTRIBUTE, comparing };
  const original: StartedOriginal = { path: page.path, comparing };
  const call = which === 'now' ? `start(${asLiteral(started)})` : `startOriginal(${asLiteral(original)})`;
  const script = scriptElement(`(() => {${scripts.preview};preview.${call}})()`, isXml);
  // what a script of the page fetches is as it will be built
  const purpose = request.headers['sec-fetch-dest'];
  const isOpened = purpose === undefined || OPENING.has(purpose);
  const text = isOpened ? withOwn(page, script, which) : page.source;
  const type = `${isXml ? 'application/xhtml+xml' : 'text/html'}; charset=${encoding}`;
  sendText(encoded(text), type, request, response);
}

/** A value as a script has it. */
function asLiteral(value: unknown): string {
  return JSON.stringify(value).replace(/</g, '\\u003c');
}

/** An element that runs a script, in a page that is read as HTML or as XML. */
function scriptElement(code: string, isXml: boolean): string {
  return isXml ? `<script>//<![CDATA[\n${code.replaceAll(']]>', ']] >')}\n//]]></script>` : `<script>${code}</script>`;
}

/** A page with a script first in its head; as it is now, with the offsets of its elements for that script to take out. */
function withOwn(page: Page, script: string, version: Answering['version']): string {
  const shown = version === 'now' ? parsePage(page.path, withOffsets(page, OFFSET_ATTRIBUTE)) : page;
  const at = headOffset(shown);
  return shown.source.slice(0, at) + script + shown.source.slice(at);
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

/** Answers with an error in a line. */
export function refuse(response: ServerResponse, status: number, text: string): void {
  if (response.headersSent) return void response.end();
  response.writeHead(status, { 'Content-Type': 'text/plain; charset=utf-8', 'X-Content-Type-Options': 'nosniff' });
  response.end(`${text}\n`);
}
