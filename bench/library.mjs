// Makes random component libraries in Estrade's own format, and pages that use them with random markup around. A mark on
// each root and item says afterwards what stood where; `plainSite` reads the marks and takes them out.
import { expandPage, parsePage, readComponents } from '../dist/index.js';

/** A generator of numbers from 0 up to 1 with a seed (mulberry32). */
export function random(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const SYLLABLES = 'va rn so und ti de qu ay ke lp fe ny mo or gu ll sa nd ha ll ow me wp or te rn ei der pu ffi'.split(
  ' ',
);

function maker(seed) {
  const next = random(seed);
  const int = (from, to) => from + Math.floor(next() * (to - from + 1));
  const pick = (list) => list[int(0, list.length - 1)];
  const chance = (p) => next() < p;
  const word = () => Array.from({ length: int(2, 4) }, () => pick(SYLLABLES)).join('');
  const words = (from, to) => Array.from({ length: int(from, to) }, word).join(' ');
  return { next, int, pick, chance, word, words };
}

const ROOTS = ['article', 'section', 'div', 'div', 'li', 'aside', 'figure', 'form'];
const indent = (text, by) => text.replace(/^(?=.)/gm, ' '.repeat(by));

/** One component: its file, how to use it, and its features. */
function makeComponent(make, index, before, soup) {
  const { int, pick, chance, word, words } = make;
  const block = word() + word();
  const name = `${block}-${index}x`;
  const root = soup ? pick(['div', 'section', 'div']) : pick(ROOTS);
  const cls = (part) => (soup ? '' : ` class="${block}__${part}"`);
  const props = [];
  const features = new Set(soup ? ['no classes'] : []);
  let rootClass = block;
  const prop = (type, more = {}) => {
    const made = { name: `p${props.length}`, type, ...more };
    props.push(made);
    return made;
  };
  const room = () => props.length < 7;
  const text = (more) => `{{${prop('text', more).name}}}`;
  const simple = () =>
    pick([
      () => `<h3${cls('heading')}>${text()}</h3>`,
      () => `<p${cls('text')}>${text({ long: true })}</p>`,
      () => `<p${cls('fact')}><span>${words(1, 2)}</span> <b>${text()}</b></p>`,
      () => `<a${cls('link')} href="${`{{${prop('url').name}}}`}">${room() ? text() : words(1, 3)}</a>`,
      () => `<img${cls('picture')} src="{{${prop('url').name}}}" alt="${words(1, 3)}">`,
    ])();
  const constant = () =>
    pick([
      () => `<p${cls('note')}>${words(4, 12)}</p>`,
      () => `<div${cls('frame')}>\n  <b>${words(1, 3)}</b>\n  <i>${words(2, 6)}</i>\n</div>`,
      () => `<hr${cls('rule')}>`,
      () => `<button type="button"${cls('button')}>${words(1, 2)}</button>`,
    ])();
  const parts = [];
  for (let i = int(2, 4); i > 0 && room(); i--) parts.push(simple());
  for (let i = int(1, 3); i > 0; i--) parts.push(constant());
  const special = {
    'optional part': () => {
      const made = prop('text', { optional: true });
      return `<template when="${made.name}"><p${cls('badge')}><em>{{${made.name}}}</em></p></template>`;
    },
    'optional constant': () =>
      `<template when="${prop('flag').name}"><strong${cls('sign')}>${words(1, 3)}</strong></template>`,
    'either or': () => {
      const made = prop('text', { optional: true });
      return `<template when="${made.name}"><a${cls('more')} href="#">{{${made.name}}}</a></template>\n<template unless="${made.name}"><em${cls('none')}>${words(1, 3)}</em></template>`;
    },
    choice: () => {
      if (soup) return simple();
      const { name: state } = prop('choice', { choices: [word(), word(), word()] });
      rootClass = `${block} ${block}--{{${state}}}${rootClass.slice(block.length)}`;
      return constant();
    },
    flag: () => {
      const { name: flag } = prop('flag');
      if (soup) return `<p aria-current="{{${flag} ? 'true' : null}}">${words(2, 5)}</p>`;
      rootClass += `{{${flag} ? ' ${block}--${word()}' : ''}}`;
      return constant();
    },
    list: () => {
      const made = prop('list', { fields: chance(0.5) ? ['f0'] : ['f0', 'f1'] });
      const inner = made.fields.length === 1 ? '{{item.f0}}' : `<a href="{{item.f1}}">{{item.f0}}</a>`;
      return `<ul${cls('list')}>\n  <template each="item" of="${made.name}"><li item="${made.name}" ${made.fields.map((field) => `item-${field}="{{item.${field}}}"`).join(' ')}>${inner}</li></template>\n</ul>`;
    },
    slot: () => {
      props.push({ name: '', type: 'slot' });
      return `<div${cls('body')}>\n  <slot></slot>\n</div>`;
    },
    'two slots': () => {
      props.push({ name: 'one', type: 'slot' }, { name: 'two', type: 'slot' });
      return `<div${cls('one')}>\n  <slot name="one"></slot>\n</div>\n<div${cls('two')}>\n  <slot name="two"></slot>\n</div>`;
    },
    'same value': () => {
      const { name: id } = prop('text', { id: true });
      return `<label for="{{${id}}}">${words(1, 2)}</label>\n<input id="{{${id}}}" name="{{${id}}}">`;
    },
    'value within': () => {
      const { name: id } = prop('text', { id: true });
      return `<p data-key="{{${id}}}"><img src="https://pictures.example/{{${id}}}.jpg" alt=""></p>`;
    },
    nested: () => {
      const inner = pick(before);
      const given = inner.props.filter(({ type }) => type !== 'slot');
      const attributes = given.map((each) => {
        if (each.type === 'flag') return chance(0.5) ? ` ${each.name}` : '';
        if (each.type === 'choice') return ` ${each.name}="${pick(each.choices)}"`;
        if (each.type === 'url' || each.optional || !room() || chance(0.5)) return ` ${each.name}="${words(1, 2)}"`;
        return ` ${each.name}="${text()}"`;
      });
      return `<div${cls('inner')}>\n  <${inner.name}${attributes.join('')}></${inner.name}>\n</div>`;
    },
  };
  const usable = before.filter(({ props: each }) => !each.some(({ type }) => type === 'slot' || type === 'list'));
  const wanted = Object.keys(special).filter((each) => each !== 'nested' || (usable.length > 0 && chance(0.8)));
  for (let i = int(0, 2); i > 0 && room(); i--) {
    const feature = pick(wanted);
    if (features.has(feature) || (feature.includes('slot') && [...features].some((each) => each.includes('slot'))))
      continue;
    features.add(feature);
    before = usable;
    parts.splice(int(0, parts.length), 0, special[feature]());
  }
  if (features.size === (soup ? 1 : 0)) features.add('plain');
  const marks = props
    .filter(({ type }) => !['slot', 'list'].includes(type))
    .map((each) => ` mark-${each.name}="{{${each.name}}}"`)
    .join('');
  const classes = soup ? '' : ` class="${rootClass}"`;
  const tag = root === 'li' ? 'section' : root;
  const body = `<${tag} mark="${name}"${marks}${classes}>\n${indent(parts.join('\n'), 2)}\n</${tag}>`;
  const interfaceLines = props
    .filter(({ type }) => type !== 'slot')
    .flatMap(({ name: each, type, choices, optional, fields }) => [
      `  <meta prop="${each}" type="${type}"${choices ? ` choices="${choices.join(' ')}"` : ''}${optional ? ' optional' : ''}>`,
      ...(fields ?? []).map((field) => `  <meta prop="${each}.${field}" type="text">`),
    ]);
  const source = `<template component="${name}">\n${interfaceLines.join('\n')}\n\n${indent(body, 2)}\n</template>\n`;
  return { name, props, features, source, path: `components/${name}.html` };
}

function use(make, { name, props }, content) {
  const { int, pick, chance, words, word } = make;
  const attributes = [];
  const blocks = [];
  let poured = '';
  for (const prop of props) {
    if (prop.type === 'flag') attributes.push(chance(0.4) ? ` ${prop.name}` : '');
    else if (prop.type === 'choice') attributes.push(` ${prop.name}="${pick(prop.choices)}"`);
    else if (prop.type === 'url') attributes.push(` ${prop.name}="https://quay.example/${word()}"`);
    else if (prop.type === 'list') {
      const records = Array.from({ length: int(1, 6) }, () =>
        Object.fromEntries(prop.fields.map((field) => [field, words(1, 3)])),
      );
      blocks.push(`<script type="application/json" slot="${prop.name}">${JSON.stringify(records)}</script>`);
    } else if (prop.type === 'slot') {
      if (prop.name === '') poured = content();
      else blocks.push(`<template slot="${prop.name}">${content()}</template>`);
    } else if (!prop.optional || chance(0.5))
      attributes.push(` ${prop.name}="${prop.id ? word() + word() : prop.long ? words(4, 14) : words(1, 4)}"`);
  }
  return `<${name}${attributes.join('')}>${blocks.join('')}${poured}</${name}>`;
}

/** Random markup that means nothing. */
function noise(make, depth = 0) {
  const { int, pick, chance, words, word } = make;
  const kind = pick(['text', 'text', 'tree', 'list', 'table', 'form', 'quote']);
  const cls = chance(0.4) ? ` class="${word()}${word()}"` : '';
  if (kind === 'text' || depth > 2)
    return `<p${cls}>${words(3, 20)}${chance(0.3) ? ` <a href="${word()}.html">${words(1, 3)}</a> ${words(1, 5)}` : ''}</p>`;
  if (kind === 'list')
    return `<ul${cls}>\n${Array.from({ length: int(1, 5) }, () => `  <li>${words(1, 6)}</li>`).join('\n')}\n</ul>`;
  if (kind === 'table') {
    const cells = int(2, 4);
    return `<table${cls}>\n${Array.from({ length: int(1, 4) }, () => `  <tr>${Array.from({ length: cells }, () => `<td>${words(1, 2)}</td>`).join('')}</tr>`).join('\n')}\n</table>`;
  }
  if (kind === 'form') {
    const field = () =>
      pick([`<input name="${word()}">`, `<button>${words(1, 2)}</button>`, `<label>${words(1, 3)}</label>`, '<br>']);
    return `<fieldset${cls}>\n${Array.from({ length: int(1, 5) }, () => `  ${field()}`).join('\n')}\n</fieldset>`;
  }
  if (kind === 'quote') return `<blockquote${cls}>${words(5, 25)}</blockquote>`;
  const tag = pick(['div', 'section', 'article', 'div', 'aside']);
  return `<${tag}${cls}>\n${indent(Array.from({ length: int(1, 4) }, () => noise(make, depth + 1)).join('\n'), 2)}\n</${tag}>`;
}

/** A component without a root of its own: a heading and what follows it, or a label and its control. */
function makeRun(make, index) {
  const { pick, word, words } = make;
  const block = word() + word();
  const name = `${block}-${index}x`;
  const text = (prop) => ({ name: prop, type: 'text' });
  const list = { name: 'p9', type: 'list', fields: ['f0', 'f1'] };
  const kinds = [
    {
      props: [text('p0'), list],
      first: (marks) => `<h2${marks} class="${block}__heading">{{p0}}</h2>`,
      last: `<ul mark-end="${name}" class="${block}__list">\n    <template each="item" of="p9"><li item="p9" item-f0="{{item.f0}}" item-f1="{{item.f1}}"><a class="${block}__link" href="{{item.f1}}">{{item.f0}}</a></li></template>\n  </ul>`,
    },
    {
      props: [text('p0'), { ...text('p1'), long: true }],
      first: (marks) =>
        `<h3${marks} class="${block}__heading"><span class="${block}__mark">${words(1, 2)}</span> {{p0}}</h3>`,
      last: `<p mark-end="${name}" class="${block}__text">{{p1}} <b class="${block}__more">${words(2, 4)}</b></p>`,
    },
    {
      props: [text('p0'), { ...text('p1'), id: true }],
      first: (marks) => `<label${marks} class="${block}__label" for="{{p1}}">{{p0}}</label>`,
      last: `<input mark-end="${name}" type="text" class="${block}__control" id="{{p1}}" name="{{p1}}" autocomplete="off">`,
    },
  ];
  const { props, first, last } = pick(kinds);
  const marks = props.filter(({ type }) => type === 'text').map(({ name: each }) => ` mark-${each}="{{${each}}}"`);
  const lines = props.flatMap(({ name: each, type, fields }) => [
    `  <meta prop="${each}" type="${type}">`,
    ...(fields ?? []).map((field) => `  <meta prop="${each}.${field}" type="text">`),
  ]);
  const body = `  ${first(` mark="${name}"${marks.join('')}`)}\n  ${last}`;
  const source = `<template component="${name}">\n${lines.join('\n')}\n\n${body}\n</template>\n`;
  return { name, props, features: new Set(['run of siblings']), source, path: `components/${name}.html` };
}

/** A library, and a site of pages that use it. */
export function makeSite(seed) {
  const make = maker(seed);
  const { int, chance } = make;
  const soup = chance(0.2);
  const components = [];
  for (let i = int(2, 6); i > 0; i--) {
    const run = !soup && chance(0.1);
    components.push(
      run
        ? makeRun(make, i)
        : makeComponent(
            make,
            i,
            components.filter(({ features }) => !features.has('run of siblings')),
            soup,
          ),
    );
  }
  const pages = Array.from({ length: int(1, 20) }, () => []);
  const plain = components.filter(({ props }) => !props.some(({ type }) => type === 'slot'));
  const content = () =>
    Array.from({ length: int(1, 3) }, () =>
      plain.length > 0 && chance(0.2) ? use(make, make.pick(plain), () => '') : noise(make, 1),
    ).join('\n');
  for (const component of components) {
    const uses = Math.max(2, Math.round(2 * 20 ** make.next()));
    for (let i = 0; i < uses; i++) {
      const page = pages[int(0, pages.length - 1)];
      page.splice(int(0, page.length), 0, use(make, component, content));
      if (chance(0.5)) page.splice(int(0, page.length), 0, noise(make));
    }
  }
  const registry = readComponents(components);
  const sources = pages.map((blocks, i) => {
    const main = indent(blocks.join('\n'), 4);
    const source = `<!DOCTYPE html>\n<html>\n<head><title>${make.words(1, 3)}</title></head>\n<body>\n  <main>\n${main}\n  </main>\n</body>\n</html>\n`;
    return plainPage(`page${i}.html`, source, registry);
  });
  return { components, pages: sources.map(({ page }) => page), uses: sources.flatMap(({ uses }) => uses) };
}

/** Expands a page, takes the marks out, and tells where each use stands and what it was given. */
function plainPage(path, source, registry) {
  const { text } = expandPage(parsePage(path, source), registry);
  const marked = parsePage(path, text);
  const cuts = [];
  const found = [];
  const visit = (node, owners) => {
    let inner = owners;
    if (node.kind === 'element') {
      const marks = node.attrs.filter(({ name }) => /^(mark|item)(-|$)/.test(name));
      for (const { start, end } of marks) cuts.push([start - 1, end]);
      const mark = marks.find(({ name }) => name === 'mark');
      const item = marks.find(({ name }) => name === 'item');
      const values = () =>
        Object.fromEntries(
          marks.filter(({ name }) => /^(mark|item)-/.test(name)).map(({ name, value }) => [name.slice(5), value]),
        );
      const end = marks.find(({ name }) => name === 'mark-end');
      // the last sibling of a run is as much of it as the first
      const run = end && found.findLast(({ name }) => name === end.value);
      if (run) {
        run.end = node.end;
        inner = run;
      }
      if (mark) {
        inner = { name: mark.value, start: node.start, end: node.end, values: values(), lists: {} };
        found.push(inner);
      } else if (item) {
        // a form within a form is dropped, mark and all
        const { lists } = owners ?? found.at(-1);
        lists[item.value] = [...(lists[item.value] ?? []), values()];
      }
    }
    for (const child of node.children ?? []) visit(child, inner);
  };
  visit(marked.root, null);
  cuts.sort((a, b) => a[0] - b[0]);
  const moved = (offset) => offset - cuts.reduce((sum, [from, to]) => sum + (to <= offset ? to - from : 0), 0);
  let plain = '';
  let at = 0;
  for (const [from, to] of cuts) {
    plain += text.slice(at, from);
    at = to;
  }
  plain += text.slice(at);
  const uses = found.map((each) => ({ ...each, path, start: moved(each.start), end: moved(each.end) }));
  return { page: parsePage(path, plain), uses };
}
