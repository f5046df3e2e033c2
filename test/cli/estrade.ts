/** Drives the built program on files in a temporary folder. */
import { execFile, spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { PIPES, Resident } from './resident.js';

export const ROOT = fileURLToPath(new URL('../..', import.meta.url));
export const BIN = join(ROOT, 'dist', 'bin.js');
const folders: string[] = [];
/** where the program keeps its key, so that nothing of the developer's is read or written */
export const STATE = join(tmpdir(), `estrade-test-state-${process.pid}`);

const ENV = { PATH: process.env.PATH, XDG_STATE_HOME: STATE };
let resident: Resident | undefined;

/** The program that is there already, or from now on. */
function theResident(): Resident {
  return (resident ??= new Resident(ROOT, ENV));
}

export interface Ran {
  status: number | null;
  signal: NodeJS.Signals | null;
  out: string;
  err: string;
}

export class Folder {
  readonly path: string;

  constructor(files: Record<string, string | Buffer> = {}) {
    this.path = mkdtempSync(join(tmpdir(), 'estrade-test-'));
    folders.push(this.path);
    this.write(files);
  }

  write(files: Record<string, string | Buffer>): void {
    for (const [name, content] of Object.entries(files)) {
      mkdirSync(dirname(join(this.path, name)), { recursive: true });
      writeFileSync(join(this.path, name), content);
    }
  }

  /** Another folder with the same in it, journal and all. */
  copy(): Folder {
    const copy = new Folder();
    cpSync(this.path, copy.path, { recursive: true });
    return copy;
  }

  read(name: string): string {
    return readFileSync(join(this.path, name), 'utf8');
  }

  /** All files but the journal's, by path, as latin1 so that every byte shows. */
  files(below = ''): Record<string, string> {
    const base = join(this.path, below);
    const paths = readdirSync(base, { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile())
      .map((entry) => join(entry.parentPath, entry.name).slice(base.length + 1))
      .filter((path) => !path.startsWith('.estrade/'));
    return Object.fromEntries(paths.sort().map((path) => [path, readFileSync(join(base, path), 'latin1')]));
  }

  /** Runs in a process that is there already, but where a process of its own is asked for by what it is given. */
  run(args: string[], options: { env?: Record<string, string>; preload?: string; cwd?: string } = {}): Ran {
    const cwd = join(this.path, options.cwd ?? '');
    if (options.env === undefined && options.preload === undefined) {
      return { signal: null, ...theResident().run(args, cwd) };
    }
    const node = options.preload === undefined ? [] : ['--require', options.preload];
    const done = spawnSync(process.execPath, [...node, BIN, ...args], {
      cwd,
      encoding: 'utf8',
      env: { ...ENV, ...options.env },
      maxBuffer: 1 << 28,
    });
    return { status: done.status, signal: done.signal, out: done.stdout, err: done.stderr };
  }

  /** Runs beside what else runs. */
  start(args: string[]): Promise<Ran> {
    return new Promise((done) => {
      execFile(
        process.execPath,
        [BIN, ...args],
        { cwd: this.path, env: ENV, maxBuffer: 1 << 28 },
        (error, out, err) => {
          done({ status: error === null ? 0 : Number(error.code), signal: error?.signal ?? null, out, err });
        },
      );
    });
  }

  json(args: string[]): unknown {
    const { out, err } = this.run([...args, '--json']);
    try {
      return JSON.parse(out);
    } catch {
      throw new Error(`no JSON from ${args.join(' ')}: ${out}${err}`);
    }
  }
}

/** What a shell runs as the program, in the process that is there already. */
export function residentCommand(): string {
  theResident();
  return [process.execPath, join(ROOT, 'test/cli/asking.mjs'), PIPES].map((part) => `'${part}'`).join(' ');
}

export function removeFolders(): void {
  resident?.end();
  resident = undefined;
  for (const folder of [...folders.splice(0), STATE]) rmSync(folder, { recursive: true, force: true });
}

/** A page with the given body, tidy and short. */
export function page(body: string, title = 'Ferries'): string {
  return `<!DOCTYPE html>\n<html lang="en">\n<head><title>${title}</title></head>\n<body>\n${body}\n</body>\n</html>\n`;
}

/** A card as the tests' sites repeat it. */
export function card(name: string, href: string, state = 'running'): string {
  return `  <article class="boat boat--${state}">
    <h3 class="boat__name"><a href="${href}">${name}</a></h3>
    <p class="boat__text">The boat of that name calls at every quay of the sound.</p>
    <p class="boat__state">It is ${state} today, as far as anyone on the quay can tell.</p>
  </article>`;
}

/** A site of two pages with five cards. */
export function site(): Record<string, string> {
  return {
    'index.html': page(
      [card('Tern', 'tern.html'), card('Eider', 'eider.html', 'late'), card('Puffin', 'puffin.html')].join('\n'),
    ),
    'islands/all.html': page([card('Tern', '../tern.html'), card('Gull', '../gull.html', 'late')].join('\n')),
    'site.css': '.boat { color: navy }\n',
  };
}

/** What `survey --json` answers, as docs/json.md has it. */
export interface SurveyJson {
  format: number;
  pages: { path: string; elements: number; lines: number }[];
  findings: {
    name: string;
    kind: string;
    recommended: boolean;
    reason: string | null;
    blocked: string | null;
    known: boolean;
    occurrences: { page: string; start: number; end: number; line: number; column: number }[];
    props: { name: string; type: string; optional: boolean; default: string | null; values: (string | null)[] }[];
    slots: unknown[];
    saved: { lines: number; bytes: number };
  }[];
  remarks: { kind: string; message: string; places: unknown[] }[];
}

/** A folder in which all that is recommended has been lifted. */
export function lifted(files: Record<string, string | Buffer> = site(), ...options: string[]): Folder {
  const folder = new Folder(files);
  const { status, err } = folder.run(['lift', '--recommended', ...options]);
  if (status !== 0) throw new Error(err);
  return folder;
}

/** A copy of the demo site. */
export function demo(): Folder {
  const folder = new Folder();
  cpSync(join(ROOT, 'demo', 'site'), folder.path, { recursive: true });
  return folder;
}
