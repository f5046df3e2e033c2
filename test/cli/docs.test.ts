/** What README and guides say to type, through the built program: every command succeeds, and prints what is shown. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { spawnSync, type SpawnSyncReturns } from 'node:child_process';
import { chmodSync, cpSync, existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join, normalize } from 'node:path';
import { Folder, removeFolders, residentCommand, ROOT, STATE } from './estrade.js';

afterAll(removeFolders);

const GUIDES = [
  'README.md',
  ...readdirSync(join(ROOT, 'docs')).flatMap((name) => (name.endsWith('.md') ? [`docs/${name}`] : [])),
];
const textOf = (name: string) => readFileSync(join(ROOT, name), 'utf8');

interface Step {
  commands: string;
  /** what is shown under them; null for nothing */
  printed: string | null;
}

/** The commands of a guide, each with what it says is printed; what installs is no command of the program. */
function stepsOf(text: string): Step[] {
  return [...text.matchAll(/^```sh\n([^]*?)^```\n(?:\n```text\n([^]*?)^```)?/gm)].flatMap(
    ([, lines, printed]): Step[] => {
      const commands = lines!.replace(/^npm .*\n/gm, '');
      return commands === '' ? [] : [{ commands, printed: printed ?? null }];
    },
  );
}

/** What is printed, with `…` for any lines. */
function patternOf(printed: string): RegExp {
  const lines = printed.trimEnd().split('\n');
  const parts = lines.map((line) =>
    line === '…' ? '(?:.*\\n)*?' : `${line.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}\\n`,
  );
  return new RegExp(`^${parts.join('')}$`);
}

/** The demo site as `site` and, as it was, as `before`; and the program on the path. */
function prepared(): Folder {
  const folder = new Folder({ 'bin/estrade': `#!/bin/sh\nexec ${residentCommand()} "$@"\n` });
  chmodSync(join(folder.path, 'bin/estrade'), 0o755);
  for (const copy of ['before', 'site']) cpSync(join(ROOT, 'demo/site'), join(folder.path, copy), { recursive: true });
  return folder;
}

/** The same with one page of the site lifted, under git. */
function preparedLifted(): Folder {
  const folder = prepared();
  folder.write({ 'site/estrade.config.json': '{ "pages": ["notices.html"] }' });
  const started = 'git init -q; git add .; git -c user.name=a -c user.email=a@b.invalid commit -qm a';
  const lift = `${started}; git update-ref refs/remotes/origin/main HEAD; estrade lift --recommended -q`;
  expect(run(folder, lift).stderr).toBe('');
  cpSync(join(ROOT, 'docs/example-target.mjs'), join(folder.path, 'site/my-target.mjs'));
  return folder;
}

function run(folder: Folder, commands: string): SpawnSyncReturns<string> {
  const env = { PATH: `${join(folder.path, 'bin')}:${process.env.PATH!}`, XDG_STATE_HOME: STATE };
  return spawnSync('sh', ['-ec', commands], { cwd: join(folder.path, 'site'), encoding: 'utf8', env });
}

test('the walkthrough ends where it began', () => {
  const folder = prepared();
  const text = textOf('docs/walkthrough.md');
  const steps = stepsOf(text);
  expect(steps.length).toBeGreaterThan(6);
  for (const { commands, printed } of steps) {
    const { status, stdout, stderr } = run(folder, commands);
    expect([commands, status, stderr]).toEqual([commands, 0, '']);
    expect(stdout).toMatch(patternOf(printed!));
    if (commands.includes('estrade draft'))
      expect(folder.read('site/notices.html')).toContain(/^```\n(<[^]*?)\n```/m.exec(text)![1]!);
  }
  expect(folder.files('site')).toEqual(folder.files('before'));
});

function expectSuccess(folder: Folder, guide: string): void {
  for (const { commands, printed } of stepsOf(textOf(guide))) {
    const { status, stdout, stderr } = run(folder, commands);
    expect([commands, status, stderr]).toEqual([commands, 0, '']);
    if (printed !== null) expect(stdout).toMatch(patternOf(printed));
  }
}

test('every command of README.md succeeds', () => expectSuccess(prepared(), 'README.md'));

describe('on a site that has been lifted', () => {
  const guides = GUIDES.filter((name) => !/README|walkthrough/.test(name) && stepsOf(textOf(name)).length > 0);
  let site: Folder;
  beforeAll(() => {
    site = preparedLifted();
  });
  test.each(guides)('every command of %s succeeds', (name) => expectSuccess(site.copy(), name));
});

test('every command and option that is named in running text is one, and every link leads somewhere', () => {
  const folder = prepared();
  const help = (command: string) => folder.run([command, '--help'].filter((arg) => arg !== '')).out;
  const commands = new Set([...help('').matchAll(/^ {2}(\w+) /gm)].map(([, name]) => name!));
  const helps = new Map([...commands].map((name) => [name, help(name)]));
  for (const guide of GUIDES) {
    const text = textOf(guide);
    for (const [, named] of text.matchAll(/`estrade ([^`<]*)[^`]*`/g)) {
      const [command, ...rest] = named!.split(/\s+/).filter((word) => word !== '');
      if (command === undefined || command.startsWith('-')) continue;
      expect([guide, named, commands.has(command)]).toEqual([guide, named, true]);
      for (const option of rest.filter((word) => /^--\w/.test(word)))
        expect([guide, named, helps.get(command)!.includes(option)]).toEqual([guide, named, true]);
    }
    for (const [, link] of text.matchAll(/\]\((?!https?:)([^)#\s]+)[^)]*\)/g))
      expect([guide, link, existsSync(join(ROOT, normalize(join(dirname(guide), link!))))]).toEqual([
        guide,
        link,
        true,
      ]);
  }
});
