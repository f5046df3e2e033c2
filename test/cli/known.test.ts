/** New pages beside components that are there: what is a use is offered, what nearly is one is told, and widened for. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { Folder, page, removeFolders } from './estrade.js';

afterAll(removeFolders);

const card = (name: string, tone: string, more = '') => `<section class="isle isle--${tone}">
  <h2 class="isle__name">${name}</h2>
  <div class="isle__body"><p>All of ${name} is walked in a day.</p></div>${more}
  <p class="isle__foot">The pier is open in all weathers</p>
</section>`;
const nav = (here: string) => `<nav class="menu" aria-label="Isles">
  <ul>
${['Orlay', 'Sandrey', 'Hallow'].map((each) => `    <li class="menu__item"><a href="${each.toLowerCase()}.html"${each === here ? ' aria-current="page"' : ''}>${each}</a></li>`).join('\n')}
  </ul>
</nav>`;
const sheet = '.isle { margin: 0 } .isle__name { margin: 0 } .menu { margin: 0 } .menu__item { margin: 0 }\n';
const files = {
  'orlay.html': page(`${nav('Orlay')}\n${card('Orlay', 'green')}\n${card('Little Orlay', 'grey')}`),
  'sandrey.html': page(`${nav('Sandrey')}\n${card('Sandrey', 'green')}\n${card('Skerry', 'grey')}`),
  'isles.css': sheet,
};
const late = {
  'hallow.html': page(`${nav('Hallow')}\n${card('Hallow', 'green')}\n${card('Stack', 'white')}`),
};

describe('a new page', () => {
  const folder = new Folder(files);
  const first = folder.run(['lift', '--recommended']);
  const before = folder.files();
  folder.write(late);

  test('is offered the components that are there, and told what it nearly is', () => {
    expect([first.status, first.err]).toEqual([0, '']);
    const { out } = folder.run(['survey']);
    expect(out).toMatch(/^\* {2}isle-section +known +1 /m);
    expect(out).toMatch(/^Nearly: what a component that is there would give back but for one thing$/m);
    expect(out).toMatch(/^hallow\.html:\d+:1 +isle-section +"white" is no choice of \w+$/m);
    expect(out).toContain('estrade lift --extend isle-section');
    const { remarks } = folder.json(['survey']) as { remarks: { kind: string }[] };
    expect(remarks.filter(({ kind }) => kind === 'near-use').length).toBeGreaterThan(0);
  });

  test('a component is widened for it, proven and undone', () => {
    const dry = folder.run(['lift', '--extend', 'isle-section', '--dry-run']);
    expect(dry.out).toMatch(/^\+ {2}<meta prop="\w+" type="choice" choices="green grey white"/m);
    expect(folder.files()).toEqual({ ...before, ...late });
    const wide = folder.run(['lift', '--extend', 'isle-section']);
    expect([wide.status, wide.err]).toEqual([0, '']);
    expect(wide.out).toMatch(/^widened {2}isle-section: a choice of "\w+": white; its uses so far are as they were$/m);
    expect(folder.read('hallow.html').match(/<isle-section/g)).toHaveLength(2);
    const check = folder.run(['check']);
    expect([check.status, check.err]).toEqual([0, '']);
    expect(folder.run(['undo']).status).toBe(0);
    expect(folder.files()).toEqual({ ...before, ...late });
  });

  test.each([
    [['--extend', 'isle-sectoin'], 2, 'did you mean isle-section?'],
    [['--extend', 'isle-section', '--recommended'], 2, '--extend does not go with --recommended'],
    [['--extend', 'isle-section', 'menu'], 2, '--extend does not go with menu'],
    [['isle-section', '--extend', 'isle-section', '--name', 'x-y'], 2, '--extend does not go with'],
  ])('lift %j is refused', (args, status, message) => {
    const run = folder.run(['lift', ...args]);
    expect([run.status, run.out]).toEqual([status, '']);
    expect(run.err).toContain(message);
    expect(folder.files()).toEqual({ ...before, ...late });
  });

  test('nothing to widen for is told', () => {
    const settled = new Folder(files);
    settled.run(['lift', '--recommended']);
    const run = settled.run(['lift', '--extend', 'isle-section']);
    expect(run.status).toBe(1);
    expect(run.err).toContain('nothing would be a use of isle-section but for one thing');
  });
});
