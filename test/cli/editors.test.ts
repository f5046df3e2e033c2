/** What editors, continuous integration and shells read: through the built program, each with the real schema or shell. */
import { afterAll, describe, expect, test } from '@jest/globals';
import Ajv from 'ajv';
import AjvDraft4 from 'ajv-draft-04';
import addFormats from 'ajv-formats';
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import { card, demo, Folder, page, removeFolders, residentCommand, site, STATE } from './estrade.js';

afterAll(removeFolders);

const require = createRequire(import.meta.url);
const sarifSchema = JSON.parse(
  readFileSync(require.resolve('@microsoft/jest-sarif/lib/schemas/sarif-2.1.0-rtm.5.json'), 'utf8'),
) as object;
const draft4 = new AjvDraft4.default({ strict: false, unicodeRegExp: false });
addFormats.default(draft4);
const isSarif = draft4.compile(sarifSchema);
const isManifest = new Ajv.Ajv({ strict: false }).compile(require('custom-elements-manifest/schema.json') as object);

interface Log {
  runs: {
    tool: { driver: { rules: { id: string; shortDescription: { text: string } }[] } };
    originalUriBaseIds: { PROJECT: { uri: string } };
    results: {
      ruleId: string;
      ruleIndex: number;
      level: string;
      message: { text: string };
      locations?: {
        physicalLocation: { artifactLocation: { uri: string }; region: { startLine: number; startColumn: number } };
      }[];
    }[];
  }[];
}

/** The results of a command that answers as SARIF, a line each, once the published schema has accepted it. */
function resultsOf(folder: Folder, args: string[], status: number): string[] {
  const ran = folder.run([...args, '--format', 'sarif']);
  expect([ran.status, ran.status === 2 || ran.err === '']).toEqual([status, true]);
  const log = JSON.parse(ran.out) as Log;
  expect([isSarif(log), isSarif.errors]).toEqual([true, null]);
  const [run] = log.runs;
  expect(fileURLToPath(run!.originalUriBaseIds.PROJECT.uri)).toBe(`${folder.path}/`);
  return run!.results.map(({ ruleId, ruleIndex, level, message, locations = [] }) => {
    expect(run!.tool.driver.rules[ruleIndex]!.id).toBe(ruleId);
    const [place] = locations.map(({ physicalLocation: { artifactLocation, region } }) => {
      return `${decodeURIComponent(artifactLocation.uri)}:${region.startLine}:${region.startColumn}`;
    });
    return `${level} ${ruleId} ${place ?? ''} ${message.text}`;
  });
}

describe('SARIF', () => {
  test('survey tells drift and slips at the places that it tells them in JSON', () => {
    const folder = demo();
    const results = resultsOf(folder, ['survey'], 0);
    const { findings, remarks } = folder.json(['survey']) as {
      findings: { drift: { places: { page: string; line: number; column: number }[] }[] }[];
      remarks: { kind: string; message: string; places: { path: string; line: number; column: number }[] }[];
    };
    const drifted = findings.flatMap(({ drift }) => drift.flatMap(({ places }) => places));
    expect(drifted.length).toBeGreaterThan(0);
    for (const { page: path, line, column } of drifted)
      expect(results).toContainEqual(expect.stringContaining(`warning drift ${path}:${line}:${column} `));
    const slips = remarks.filter(({ kind }) => kind === 'slip');
    expect(slips.length).toBeGreaterThan(0);
    for (const { message, places } of slips)
      for (const { path, line, column } of places) {
        const place = `${path}:${line}:${column}`;
        const isDrift = drifted.some((each) => `${each.page}:${each.line}:${each.column}` === place);
        if (!isDrift) expect(results).toContain(`warning slip ${place} ${message}`);
      }
  });

  test('check tells wrong uses, what differs and what could be said with less; the status is the same', () => {
    const folder = new Folder({
      ...site(),
      'ö & #/last one.html': page([card('Auk', 'a.html'), card('Skua', 's.html')].join('\n')),
    });
    expect(folder.run(['lift', '--recommended']).status).toBe(0);
    expect(resultsOf(folder, ['check'], 0).filter((each) => !each.startsWith('warning missing-file'))).toEqual([]);
    const path = 'ö & #/last one.html';
    const [name] = /(?<=<)boat-?\w*(?=[ >])/.exec(folder.read(path)) ?? [];
    folder.write({ [path]: folder.read(path).replace(`<${name!} `, `<${name!} wrong-one="x" `) });
    const wrong = resultsOf(folder, ['check', '--advice'], 1);
    expect(wrong).toContainEqual(
      expect.stringMatching(/^error unknown-prop ö & #\/last one\.html:\d+:\d+ .* has no prop wrong-one/),
    );
  });

  test('an error that ends the command is its one result, at its place', () => {
    const folder = new Folder({ ...site(), 'estrade.config.json': '{ "pages": [}' });
    expect(resultsOf(folder, ['survey'], 2)).toEqual([
      expect.stringMatching(/^error error estrade\.config\.json:1:13 /),
    ]);
    expect(folder.run(['survey', '--format', 'xml'])).toMatchObject({ status: 2 });
    expect(folder.run(['survey', '--words', '--format', 'sarif']).status).toBe(2);
  });

  test('every kind that docs/json.md lists has a rule of its own', () => {
    const docs = readFileSync(fileURLToPath(new URL('../../docs/json.md', import.meta.url)), 'utf8');
    const kinds = [...docs.matchAll(/^\| (`[a-z-]+`(?:, `[a-z-]+`)*) +\| (?:error|warning)/gm)].flatMap(([, cell]) =>
      [...cell!.matchAll(/`([a-z-]+)`/g)].map(([, kind]) => kind!),
    );
    expect(kinds.length).toBeGreaterThan(15);
    const source = readFileSync(fileURLToPath(new URL('../../src/commands/formats.ts', import.meta.url)), 'utf8');
    for (const kind of kinds) expect(source).toContain(`{ id: '${kind}',`);
  });
});

test('manifest describes the components as they are used: attributes with types and choices, slots, lists', () => {
  const folder = demo();
  expect(folder.run(['lift', '--recommended']).status).toBe(0);
  expect(folder.run(['manifest']).out).toContain('Written: custom-elements.json, 24 components.');
  const manifest = JSON.parse(folder.read('custom-elements.json')) as {
    modules: {
      path: string;
      declarations: { tagName: string; attributes: { name: string }[]; slots: { name: string }[] }[];
    }[];
  };
  expect([isManifest(manifest), isManifest.errors]).toEqual([true, null]);
  const declared = new Map(
    manifest.modules.flatMap(({ declarations }) => declarations.map((each) => [each.tagName, each])),
  );
  expect(declared.get('notice-section')).toMatchObject({
    attributes: expect.arrayContaining([{ name: 'state', type: { text: "'calm' | 'delayed' | 'storm'" } }]),
  });
  // all that roster knows of interfaces is there, and nothing else
  const { components } = folder.json(['roster']) as {
    components: { name: string; path: string; props: { name: string; type: string }[]; slots: string[] }[];
  };
  for (const { name, props, slots } of components) {
    const isField = (prop: { name: string }) => prop.name.includes('.');
    const own = props.filter((prop) => !isField(prop));
    const [lists, attributes] = [own.filter(({ type }) => type === 'list'), own.filter(({ type }) => type !== 'list')];
    expect(declared.get(name)!.attributes.map((each) => each.name)).toEqual(attributes.map((each) => each.name));
    expect(declared.get(name)!.slots.map((each) => each.name)).toEqual([...slots, ...lists.map((each) => each.name)]);
  }
  expect(folder.run(['manifest']).out).toContain('Right already');
  // a manifest of something else is not overwritten, nor is the site built with it
  folder.write({ 'custom-elements.json': '{ "schemaVersion": "2.1.0", "modules": [{ "path": "src/x.js" }] }' });
  expect(folder.run(['manifest'])).toMatchObject({ status: 1, err: expect.stringContaining('--out -') });
  expect(JSON.parse(folder.run(['manifest', '--out', '-']).out)).toEqual(manifest);
  expect(folder.run(['manifest', '--out', 'boats/all.json']).status).toBe(0);
  expect(JSON.parse(folder.read('boats/all.json'))).toMatchObject({
    modules: expect.arrayContaining([expect.objectContaining({ path: '../components/boat-card.html' })]),
  });
  expect(folder.run(['manifest', '--force']).status).toBe(0);
});

describe('completion', () => {
  const folder = demo();
  const lifted = demo();
  lifted.run(['lift', '--recommended']);

  /** What bash completes a command line to, by the script that the program prints; words as bash takes them apart. */
  function completed(at: Folder, ...words: string[]): string[] {
    const script = `estrade() { ${residentCommand()} "$@"; }
source <(estrade completion bash)
COMP_WORDS=(${['estrade', ...words].map((word) => `'${word}'`).join(' ')}) COMP_CWORD=${words.length}
compopt() { echo "compopt $*"; }
_estrade
printf '%s\\n' "\${COMPREPLY[@]}"`;
    const env = { PATH: process.env.PATH, XDG_STATE_HOME: STATE };
    const { stdout, stderr } = spawnSync('bash', ['--norc', '--noprofile', '-c', script], {
      cwd: at.path,
      encoding: 'utf8',
      env,
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    expect(stderr).toBe('');
    return stdout.split('\n').filter((line) => line !== '');
  }

  test.each<[string[], string[]]>([
    [['em'], ['emit']],
    [['lift', '--reco'], ['--recommended']],
    [
      ['lift', 'boat'],
      ['boat-card', 'boat-fact'],
    ],
    [['lift', 'boat-card', 'boat'], ['boat-fact']],
    [
      ['lift', '--styles', ''],
      ['keep', 'move'],
    ],
    [['lift', '--styles', '=', 'm'], ['move']],
    [['lift', 'boat-card', '--fixed', 'head'], ['heading']],
    [['arrange', 'p'], ['patterns']],
    [
      ['emit', ''],
      ['tsx', 'jsx', 'elements'],
    ],
    [['outline', 'boats/t'], ['boats/tern.html']],
    [['expand', '--out', ''], ['compopt -o dirnames']],
    [['survey', 'boa'], ['compopt -o default']],
    [['nothing', ''], []],
    [['rename', 'boat-card', ''], []],
  ])('before a lift, %j is completed to %j', (words, expected) =>
    expect(completed(folder, ...words)).toEqual(expected),
  );

  test.each<[string[], string[]]>([
    [
      ['inline', 'boat-'],
      ['boat-card', 'boat-fact'],
    ],
    [['default', 'boat-fact.'], expect.arrayContaining([expect.stringMatching(/^boat-fact\.[a-z-]+$/)]) as never],
    [['lift', '--extend', 'notice'], ['notice-section']],
    [['show', 'site-h'], ['site-header']],
  ])('after it, %j is completed to %j', (words, expected) => expect(completed(lifted, ...words)).toEqual(expected));

  test('zsh and fish get candidates with what they are; a shell that is none is refused', () => {
    expect(lifted.run(['completion', 'fish', '--', 'show', 'site-h']).out).toBe(
      'site-header\tcomponents/site-header.html\n',
    );
    expect(lifted.run(['completion', 'zsh', '--', 'lift', '--styles=m']).out).toBe('--styles=move\n');
    expect(lifted.run(['completion', 'tcsh']).status).toBe(2);
    // where nothing can be read there is nothing to complete, and no word of it
    lifted.write({ 'estrade.config.json': '{' });
    expect(lifted.run(['completion', 'bash', '--', 'show', ''])).toMatchObject({ status: 0, out: '', err: '' });
  });
});
