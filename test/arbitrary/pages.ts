/** Random pages built from random fragments, for what is promised of all inputs: tidy and untidy markup alike. */
import fc from './seeded.js';

const word = fc.constantFrom(
  'tern',
  'eider',
  'quay',
  'Mewport',
  'tide table',
  'a b',
  '7',
  '12.50',
  'seals & gulls',
  'x',
);
const odd = fc.constantFrom(
  '&copy; 1911',
  'fish &amp; chips',
  'a < b',
  'R&D',
  '&copy=1',
  '{{name}}',
  '}} {{',
  '"quoted"',
  "it's",
  `both "and" it's`,
  '&quot;so&quot;',
  'two\n    lines',
  '&nbsp;',
  'Grüße, 世界 🚢',
  '',
  ' ',
  '&#39;',
  '&',
  '\\',
  '$&',
  // what every object has
  'toString',
  'constructor',
  '__proto__',
);
const value = fc.oneof({ weight: 4, arbitrary: word }, { weight: 1, arbitrary: odd });

/** Markup with holes: a function of the values that one occurrence has. */
interface Shape {
  holes: number;
  render: (values: string[], indent: string) => string;
}

const tags = fc.constantFrom(
  'div',
  'p',
  'span',
  'section',
  'a',
  'b',
  'li',
  'ul',
  'h3',
  'em',
  'button',
  'pre',
  'label',
  'DIV',
  'x-own',
);
const classes = fc.constantFrom(
  '',
  ' class="card"',
  " class='card card--wide'",
  ' class=note',
  ' class="constructor"',
  ' hidden',
  ' data-x="1"',
);

function attribute(name: string, quote: string): Shape {
  const escapes: Record<string, (text: string) => string> = {
    '"': (text) => text.replaceAll('"', '&quot;'),
    "'": (text) => text.replaceAll("'", '&#39;'),
    '': (text) => text.replace(/[\s"'=<>`]/g, '-') || 'none',
  };
  return { holes: 1, render: ([text]) => ` ${name}=${quote}${escapes[quote]!(text!)}${quote}` };
}

function fixed(text: string): Shape {
  return { holes: 0, render: () => text };
}

function joined(shapes: Shape[]): Shape {
  return {
    holes: shapes.reduce((sum, shape) => sum + shape.holes, 0),
    render: (values, indent) => {
      let at = 0;
      return shapes.map((shape) => shape.render(values.slice(at, (at += shape.holes)), indent)).join('');
    },
  };
}

const attributes: fc.Arbitrary<Shape> = fc
  .array(
    fc.tuple(
      fc.constantFrom('href', 'title', 'src', 'style', 'data-id', 'alt', 'onclick', 'class', 'constructor'),
      fc.constantFrom('"', "'", ''),
    ),
    {
      maxLength: 2,
    },
  )
  .map((list) => joined(list.map(([name, quote]) => attribute(name, quote))));

const text: Shape = { holes: 1, render: ([value]) => value!.replace(/<(?=[a-z/!?])/gi, '&lt;') };

const leaf = fc.oneof(
  { weight: 4, arbitrary: fc.constant(text) },
  {
    weight: 1,
    arbitrary: fc
      .constantFrom(
        'plain',
        '<br>',
        '<img src="i/a.png">',
        '<a href="./b.html"><img src="./i/b.png"></a>',
        '<a href=".">up</a>',
        '<!-- note -->',
        '<input disabled>',
        '<svg viewBox="0 0 1 1"><path d="M0 0"/></svg>',
        '<script>if (a < b) "{{x}}"</script>',
        '<template><i>own</i></template>',
        '<p>open',
        '</div>',
        '<b>x<i>y</b>z</i>',
        '<table><td>cell',
        '{{',
      )
      .map(fixed),
  },
);

/** How deep the lines of an element stand, seldom as nobody would indent them. */
const deepening = fc.oneof(
  { weight: 8, arbitrary: fc.constant((indent: string) => `${indent}  `) },
  {
    weight: 1,
    arbitrary: fc.constantFrom(
      (indent: string) => `${indent}\t`,
      () => '\t\t\t',
      () => ' \t',
      () => '',
    ),
  },
);

const shape: fc.Arbitrary<Shape> = fc.letrec<{ node: Shape; element: Shape }>((tie) => ({
  node: fc.oneof({ maxDepth: 3 }, leaf, tie('element')),
  element: fc
    .record({
      tag: tags,
      fixedAttributes: classes,
      varying: attributes,
      children: fc.array(tie('node'), { maxLength: 4 }),
      broken: fc.boolean(),
      deepen: deepening,
      closed: fc.integer({ min: 0, max: 9 }),
    })
    .map(({ tag, fixedAttributes, varying, children, broken, deepen, closed }): Shape => {
      const space = (inner: string) => (broken ? `\n${inner}` : '');
      const inside = joined(children);
      return {
        holes: varying.holes + inside.holes,
        render: (values, indent) => {
          const deeper = deepen(indent);
          let at = varying.holes;
          const body = children
            .map((child) => space(deeper) + child.render(values.slice(at, (at += child.holes)), deeper))
            .join('');
          const end = closed === 0 ? '' : `</${tag}>`;
          return `<${tag}${fixedAttributes}${varying.render(values.slice(0, varying.holes), indent)}>${body}${space(indent)}${end}`;
        },
      };
    }),
})).element;

const containers = fc.constantFrom(
  ['<main>', '</main>'],
  ['<ul>', '</ul>'],
  ['<table><tr><td>', '</td></tr></table>'],
  ['<p>', ''],
  ['<select>', '</select>'],
  ['<div style="white-space: pre">', '</div>'],
  ['<li>', '</li>'],
);

/** The sources of one to three pages; some fragments stand in them several times with other values. */
export const sites: fc.Arbitrary<string[]> = fc
  .record({
    shapes: fc.array(shape, { minLength: 1, maxLength: 3 }),
    pages: fc.array(
      fc.array(
        fc.record({
          container: containers,
          depth: fc.integer({ min: 0, max: 3 }),
          picks: fc.array(fc.record({ shape: fc.nat(), values: fc.array(value, { minLength: 12, maxLength: 12 }) }), {
            minLength: 1,
            maxLength: 5,
          }),
        }),
        { minLength: 1, maxLength: 3 },
      ),
      { minLength: 1, maxLength: 3 },
    ),
    eol: fc.constantFrom('\n', '\n', '\r\n'),
  })
  .map(({ shapes, pages, eol }) =>
    pages.map((blocks) => {
      const body = blocks.map(({ container: [open, close], depth, picks }) => {
        const indent = '  '.repeat(depth);
        const parts = picks.map(({ shape: pick, values }) => {
          const chosen = shapes[pick % shapes.length]!;
          const filled = Array.from({ length: chosen.holes }, (_, i) => values[i % values.length]!);
          return `${indent}  ${chosen.render(filled, `${indent}  `)}`;
        });
        return [`${indent}${open}`, ...parts, `${indent}${close}`].join('\n');
      });
      return `<!DOCTYPE html>\n<html><head><title>t</title></head>\n<body>\n${body.join('\n')}\n</body></html>\n`.replaceAll(
        '\n',
        eol,
      );
    }),
  );
