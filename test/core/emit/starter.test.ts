/** Modules written after a starter: what goes where, and what follows from where a module stands. */
import { expect, test } from '@jest/globals';
import { moduleStarter, type ModuleParts, plainModule } from '../../../src/core/emit/tsx/starter.js';

const parts: ModuleParts = {
  pragma: '/** @jsxImportSource preact */',
  imports: "import { TeamPart } from './x';",
  interface: 'export interface BoatRowProps {}',
  about: '/** A team-part of the fleet. */\n',
  name: 'BoatRow',
  props: '{ heading }: BoatRowProps',
  markup: '<p>{heading}</p>',
};
const source = `// TeamPart, teamPart, team-part; Team part, TeamPartner and myTeamPart
/* estrade: imports */
import { a } from './a';
import b from "../b.js";
export * from '../../../outside';
const c = await import('./c');
/* estrade: interface */
/* estrade: about */
export function TeamPart(/* estrade: props */) {
  const markup = /* estrade: markup */;
}
`;
const written = (text: string, given: Partial<ModuleParts> = {}, folder = 'components/boats', toRoot = '../../') =>
  moduleStarter({ path: 'web/team/TeamPart.tsx', source: text }, toRoot)(folder, { ...parts, ...given });

test('names, imports and parts are put where the starter has them, and what is put there is left alone', () => {
  expect(written(source)).toBe(`/** @jsxImportSource preact */

// BoatRow, boatRow, boat-row; Boat row, TeamPartner and myTeamPart
import { TeamPart } from './x';
import { a } from '../../../../web/team/a';
import b from "../../../../web/b.js";
export * from '../../../outside';
const c = await import('../../../../web/team/c');
export interface BoatRowProps {}
/** A team-part of the fleet. */
export function BoatRow({ heading }: BoatRowProps) {
  const markup = (<p>{heading}</p>);
}
`);
});

test('lines of markers go with them where there is nothing to put there; the output may be the root itself', () => {
  const bare = written(source, { imports: '', interface: '', about: '', pragma: '', props: '' }, 'components', '');
  expect(bare).toContain("and myTeamPart\nimport { a } from '../web/team/a';");
  expect(bare).toContain("import('../web/team/c');\nexport function BoatRow() {");
});

test.each([
  ['<p></p>', '<div><p></p></div>'],
  ['<><p></p>x</>', '<div><><p></p>x</></div>'],
  ['/* note */ null', '<div>{/* note */ null}</div>'],
])('markup %s as a child', (markup, expected) => {
  const text = source.replace('/* estrade: markup */', '<div>{/* estrade: markup */}</div>');
  expect(written(text, { markup })).toContain(`const markup = ${expected};`);
});

test('without a marker for it the comment follows the interface; a runtime that is named stays', () => {
  const text = `/** @jsxImportSource own */\n${source.replace('/* estrade: about */\n', '')}`;
  expect(written(text)).toMatch(
    /^\/\*\* @jsxImportSource own \*\/\n\/\/ Boat[^]*export interface BoatRowProps \{\}\n\n\/\*\* A team-part of the fleet\. \*\/\nexport function/,
  );
  expect(written(text)).not.toContain('preact');
  expect(plainModule({ ...parts, imports: '' })).toBe(
    '/** @jsxImportSource preact */\n\nexport interface BoatRowProps {}\n\n/** A team-part of the fleet. */\nexport function BoatRow({ heading }: BoatRowProps) {\nreturn (<p>{heading}</p>);\n}\n',
  );
});
