/** Projects of random pages that were lifted, for tests of what changes components and everything that speaks of them. */
import { expect } from '@jest/globals';
import fc from '../../arbitrary/seeded.js';
import type { Change } from '../../../src/core/library/change.js';
import type { Site } from '../../../src/core/library/uses.js';
import { fillMarkers } from '../../../src/core/style/fill.js';
import { DEFAULT_THRESHOLDS } from '../../../src/core/survey/types.js';
import { type ComponentSource, expandPage, parsePage, planLift, readComponents, survey } from '../../../src/index.js';
import { made } from '../offered.js';

const thresholds = { ...DEFAULT_THRESHOLDS, minElements: 1, minWorth: -10_000, maxProps: 12, minLines: 1 };

/** The files of a project. */
export interface Files {
  pages: Map<string, string>;
  components: ComponentSource[];
  data: Map<string, string>;
  sheets: Map<string, string>;
}

export const siteOf = ({ pages, components, data, sheets }: Files): Site => ({
  pages: [...pages].map(([path, source]) => parsePage(path, source)),
  registry: readComponents(components, { data }),
  sheets,
  data,
});

export const changed = ({ pages, components, data, sheets }: Files, { texts, moved, removed }: Change): Files => {
  const all = (files: Map<string, string>) =>
    new Map(
      [...files]
        .filter(([path]) => !removed.has(path))
        .map(([path, text]) => [moved.get(path) ?? path, texts.get(path) ?? text]),
    );
  const left = components.filter(({ path }) => !removed.has(path));
  const renamed = left.map(({ path, source }) => ({
    path: moved.get(path) ?? path,
    source: texts.get(path) ?? source,
  }));
  return { pages: all(pages), components: renamed, data: all(data), sheets: all(sheets) };
};

/** What the pages and the stylesheets come to. */
export const expanded = (files: Files): string[] => {
  const { pages, registry, sheets } = siteOf(files);
  const texts = pages.map((page) => {
    const { text, problems } = expandPage(page, registry);
    expect(problems).toEqual([]);
    return text;
  });
  // markers of components without styles stay as they are
  const filled = [...sheets].map(([path, text]) => fillMarkers(path, text, registry).text);
  return [...texts, ...filled.map((text) => text.replace(/^@component .*\n/gm, ''))];
};

/** What has several slots is seldom found in random pages. */
export const component = (name: string, meta: string, body: string) => ({
  path: `components/${name}.html`,
  source: `<template component="${name}">\n${meta}\n${body}\n</template>\n`,
});
const frame = component(
  'note-frame',
  '<meta prop="picture" type="text" default="quay">',
  `<aside style="background: url('../img/{{picture}}.png'), url(data:,x)"><slot name="head"><b>Note</b></slot><slot></slot>
<img srcset="../img/{{picture}}.png 1x, ../img/{{ picture }}-2.png?a=../b 2x" src="{{picture}}.svg" alt=""><a href=../isles/#top>x</a>
<slot name="foot"></slot></aside>`,
);
frame.source += '<style>\n  aside { background: url(../img/x.png), url( "own.png" ) }\n</style>\n';
const framed =
  '<note-frame>One<template slot="foot">a<note-frame><template slot="head">in</template></note-frame></template></note-frame>\n<template use="note-frame"><template slot="head"><i>b</i></template></template>';

/** A site of random pages with what the survey finds lifted. */
export const lifted = (sources: string[], inline: number): Files => {
  const pages = sources.map((source, i) => parsePage(`${i % 2 === 0 ? '' : 'isles/'}p${i}.html`, source));
  const { findings, others } = survey(pages, readComponents([]), { thresholds, componentFolder: 'components' });
  const plan = planLift({
    pages,
    components: [],
    // what takes a list, or has a slot, is seldom recommended in random pages
    findings: [
      ...others()
        .flatMap(made)
        .filter(({ props, general }) => props.some(({ type }) => type === 'list') || (general?.slots.length ?? 0) > 0),
      ...findings,
    ],
    componentFolder: 'components',
    data: { folder: 'data', limit: inline, files: new Map() },
  });
  const after = new Map(plan.pages.map(({ path, after: text }) => [path, text]));
  const marked = [...plan.components, frame].map(({ path }) => `@component ${path.replace(/^.*\/|\.html$/g, '')};\n`);
  return {
    pages: new Map([
      ...pages.map(({ path, source }) => [path, after.get(path) ?? source] as const),
      ['framed.html', framed],
    ]),
    components: [...plan.components, frame],
    data: new Map(plan.data.map(({ path, text }) => [path, text])),
    sheets: new Map([['site.css', marked.join('')]]),
  };
};

/** Boards of rows, which become lists, in the page or in data files; some boards stand in panels. */
const row = fc.tuple(fc.constantFrom('Mewport', 'Orlay', 'Sandrey', 'a & b'), fc.constantFrom('9:10', '10:40', '—'));
const board = fc
  .record({
    title: fc.constantFrom('Today', 'Tomorrow', 'Later'),
    rows: fc.array(row, { minLength: 2, maxLength: 5 }),
    isIn: fc.boolean(),
  })
  .map(({ title, rows, isIn }) => {
    const items = rows.map(([to, at]) =>
      `<li class="row"><b class="row__to">${to}</b> <i>${at}</i></li>`.replace('&', '&amp;'),
    );
    const list = `<div class="board"><h2>${title}</h2>\n<ul class="board__rows">\n${items.join('\n')}\n</ul></div>`;
    return isIn ? `<section class="panel"><h1>${title} all</h1>\n${list}\n</section>` : list;
  });
export const boards = fc.array(
  fc.array(board, { minLength: 3, maxLength: 6 }).map((all) => `<!DOCTYPE html>\n<body>\n${all.join('\n')}\n</body>\n`),
  { minLength: 1, maxLength: 3 },
);
