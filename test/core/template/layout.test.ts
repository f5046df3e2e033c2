/** Lines of a template, whose indentation is known only when all of it is written. */
import { expect, test } from '@jest/globals';
import { expandPage, parsePage, planLift } from '../../../src/index.js';
import { laidOut, relative, under, UNIT } from '../../../src/core/template/layout.js';
import { cases } from '../../arbitrary/cases.js';
import { componentOf } from '../component-of.js';
import fc from '../../arbitrary/seeded.js';

const columns = fc.nat(9);

test('lines keep their columns to each other, as far as the first one is a step deep and none can be less than not at all', () => {
  const steps = fc.constantFrom('  ', '    ', '\t');
  const moves = fc.array(fc.record({ from: columns, to: columns, deeper: fc.boolean() }), { maxLength: 3 });
  fc.assert(
    fc.property(fc.array(columns, { minLength: 1 }), columns, moves, steps, (lines, indent, moved, step) => {
      const text = lines.map((column) => `\n${' '.repeat(column)}x`).join('');
      let marked = relative(text, undefined, ' '.repeat(indent));
      for (const { from, to, deeper } of moved)
        marked = under(marked, relative(`\n${' '.repeat(to)}`, '<', ' '.repeat(from)) + (deeper ? UNIT : ''));
      const moveBy = (depth: number, by: number) => Math.max(0, depth + by);
      const [first, ...rest] = laidOut(`x${marked}`, step).split('\n');
      expect(first).toBe(`${step}x`);
      const depth = [...moved]
        .reverse()
        .reduce((at, { from, to, deeper }) => moveBy(at, to - from) + (deeper ? step.length : 0), step.length);
      expect(rest.map((line) => /^[ \t]*(?=x$)/.exec(line)?.[0].length)).toEqual(
        lines.map((column) => moveBy(depth, column - indent)),
      );
    }),
    { numRuns: cases(1000) },
  );
});

test('a line that breaks within an end tag stands as deep as the line before it does', () => {
  const boat = (name: string, deep: string) =>
    `${deep}<section>\n${deep}  <h3\n${deep}    >${name}</h3\n${deep}  ><p>calls at every quay</p\n${deep}  >\n${deep}</section>`;
  const source = `<div>\n${[boat('Tern', '      '), boat('Eider', '      '), boat('Gull', '  ')].join('\n')}\n</div>\n`;
  const { file } = componentOf('section', [parsePage('index.html', source)]);
  expect(file).toContain(boat('{{heading}}', '  '));
});

test('a place that starts deeper than most of what it holds is as deep as where it ends, and no line makes others deeper', () => {
  const boat = (name: string, start: string, odd: string) =>
    `${start}<section>\n  <h3>${name}</h3>\n${odd}<p>calls at every quay</p>\n  <ul>\n    <li>mail</li>\n  </ul>\n</section>`;
  const boats = ['Tern', 'Eider', 'Gull'];
  const fileOf = (...places: string[]) => {
    const page = parsePage('index.html', `<div>\n${places.join('\n')}\n</div>\n`);
    return componentOf('section', [page]).file;
  };
  const tidy = boat('{{heading}}', '', '  ').replace(/^/gm, '  ');
  expect(fileOf(...boats.map((name) => boat(name, '        ', '  ')))).toContain(`\n${tidy}\n`);
  // one line of a deep place that is not
  const deep = boats.map((name) =>
    boat(name, '', '  ')
      .replace(/^/gm, '        ')
      .replace(/^ +(?=<p>)/m, ''),
  );
  expect(fileOf(...deep)).toContain(`\n${tidy.replace(/^ +(?=<p>)/m, '')}\n`);
});

test('a use that replaces one line is one line where that is no longer, and goes on in the next where it is', () => {
  const boat = (name: string, port: string, between = '') =>
    `<div class="boat" role="group"><h3 class="boat-name">${name}</h3>${between}<p class="boat-port">${port}</p></div>`;
  const long = 'the old paddle steamer from the other side of the sea';
  const useOf = (between?: string) => {
    const boats = [boat(long, 'the pier behind the lighthouse', between), boat('Tern', 'north', between)];
    return componentOf('.boat', [parsePage('index.html', boats.join('\n'))]).uses[0]!;
  };
  expect(useOf().length).toBeGreaterThan(100);
  expect(useOf()).not.toContain('\n');
  expect(useOf('\n')).toContain('\n');
});

test('what comes and goes has its line to itself, though the line break before it is that of a text', () => {
  const row = (label: string, isLate: boolean) =>
    `  <p>\n    <b>Boat</b>\n    ${label}${isLate ? '\n    <i class="late">Late today</i>' : ''}\n  </p>`;
  const source = `<div>\n${[row('Tern', true), row('Eider', false), row('Gull', true)].join('\n')}\n</div>\n`;
  const page = parsePage('index.html', source);
  const finding = componentOf('p', [page]);
  expect(finding.file).toContain(
    '\n    {{text}}\n    <template when="late"><i class="late">Late today</i></template>\n  </p>\n',
  );
  const plan = planLift({ pages: [page], components: [], findings: [finding], componentFolder: 'components' });
  expect(expandPage(parsePage('index.html', plan.pages[0]!.after), plan.registry).text).toBe(source);
});
