/** Plots of a report, as SVG. */
import { html, type Markup } from '../core/html.js';
import { count } from '../terminal/style.js';
import type { LineShares } from '../core/library/line-shares.js';
import type { Report } from './model.js';

/** Width of the plot of all lines, in its own units. */
const WIDTH = 960;
const BAR = 46;
/** Room that a letter of a label takes, and what is around a label. */
const LETTER = 7.2;
const AROUND = 12;
/** Classes of the colours that components take turns in. */
const COLOURS = 4;

/** What a component has of the site's lines, before and after. */
export interface LinesOf {
  name: string;
  before: number;
  after: number;
}

/** Lines by component, what has most of the built site first. */
export function linesByComponent({ lines: { before, after } }: Report): LinesOf[] {
  const names = new Set([...before.components.keys(), ...after.components.keys()]);
  return [...names]
    .map((name) => ({ name, before: before.components.get(name) ?? 0, after: after.components.get(name) ?? 0 }))
    .sort((a, b) => b.before - a.before || b.after - a.after || (a.name < b.name ? -1 : 1));
}

/** Two bars: the lines of the site as it is built, and as it is written with components; each in parts. */
export function linesPlot(report: Report): Markup {
  const { before, after } = report.lines;
  const order = linesByComponent(report).map(({ name }) => name);
  const scale = WIDTH / Math.max(1, before.total, after.total);
  const titles = [report.isLifted ? 'Built' : 'Now', report.isPlanned ? 'With components' : 'Written'];
  const told = [before, after].map(({ total }, i) => `${titles[i]!}: ${count(total, 'line')}`).join('. ');
  return html`<svg class="totals" viewBox="0 0 ${WIDTH} ${2 * (BAR + 34)}" role="img" aria-label="${told}">
    ${[before, after].map((shares, i) => stackedBar(shares, order, scale, { y: i * (BAR + 34), title: titles[i]! }))}
  </svg>`;
}

function stackedBar(
  shares: LineShares,
  order: string[],
  scale: number,
  { y, title }: { y: number; title: string },
): Markup {
  const parts = [
    { name: '', lines: shares.pages, colour: 'own', on: 'onpale' },
    ...order.map((name, i) => ({
      name,
      lines: shares.components.get(name) ?? 0,
      colour: `c${i % COLOURS}`,
      on: 'on',
    })),
  ];
  let x = 0;
  const drawn = parts.map(({ name, lines, colour, on }) => {
    const [left, width] = [x, lines * scale];
    x += width;
    const label = name === '' ? 'pages themselves' : name;
    const isWide = width > label.length * LETTER + AROUND;
    return html`<g
      ><title>${label}: ${count(lines, 'line')}</title
      ><rect class="${colour}" x="${px(left)}" y="${y + 22}" width="${px(Math.max(0, width - 1))}" height="${BAR}" />${
        isWide &&
        html`<text class="${on}" x="${px(left + AROUND / 2)}" y="${y + 22 + BAR / 2 + 4}" font-size="13"
          >${label}</text
        >`
      }</g
    >`;
  });
  return html`<text x="0" y="${y + 15}" font-size="14" font-weight="650">${title}: ${count(shares.total, 'line')}</text
    >${drawn} `;
}

/** Two thin bars, one below the other. @param most lines that are as wide as the plot */
export function pairOfBars({ before, after }: LinesOf, most: number): Markup {
  const share = (lines: number) => `${px((lines / Math.max(1, most)) * 100)}%`;
  return html`<svg aria-hidden="true" focusable="false">
    <rect class="before" y="1" height="7" width="${share(before)}" />
    <rect class="after" y="10" height="7" width="${share(after)}" />
  </svg>`;
}

function px(value: number): string {
  return String(Math.round(value * 10) / 10);
}
