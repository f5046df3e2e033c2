/** What the survey recommends and what it passes over, and that neither hangs on the order of files. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { componentFile } from '../../../src/core/template/write.js';
import { DEFAULT_THRESHOLDS, parsePage, planLift, readComponents, survey, templatesOf } from '../../../src/index.js';
import { sites } from '../../arbitrary/pages.js';

const options = { thresholds: DEFAULT_THRESHOLDS, componentFolder: 'components' };
const page = (body: string) =>
  `<!DOCTYPE html>\n<html lang="en">\n<head><title>t</title></head>\n<body>\n${body}\n</body>\n</html>\n`;
const surveyed = (files: Record<string, string>) =>
  survey(
    Object.entries(files).map(([path, body]) => parsePage(path, page(body))),
    new Map(),
    options,
  );

describe('what is recommended', () => {
  const words = ['tide', 'quay', 'gull', 'rope', 'bell', 'lamp', 'pier', 'sail', 'salt', 'deck', 'stern', 'wind'];
  const prose = (i: number, tags: string[]) =>
    `<div>${tags.map((tag, at) => `<${tag}>${words[(i + at) % 12]!} and ${words[(i * 5 + at) % 12]!}</${tag}>`).join('')}</div>`;
  const shapes = [['p'], ['h4', 'p'], ['p', 'em', 'p'], ['blockquote', 'p'], ['span', 'p']];

  test('no prose: text that nothing names, and in which nothing is the same', () => {
    const body = (n: number) => shapes.map((tags, i) => prose(n + i, tags)).join('\n');
    const pages = Object.fromEntries(Array.from({ length: 12 }, (_, i) => [`p${i}.html`, body(i)]));
    expect(surveyed(pages).findings.map(({ name }) => name)).toEqual([]);
    // the same with a constant line in it is a part
    const noted = Object.fromEntries(
      Object.entries(pages).map(([path, source]) => [
        path,
        source.replaceAll('</div>', '<p><b>Mind the gull</b> <i>and the step that moves with the tide</i></p></div>'),
      ]),
    );
    expect(surveyed(noted).findings.length).toBeGreaterThan(0);
  });

  test('no frame that nothing names and of which only the root is the same', () => {
    const kinds = ['article', 'aside', 'figure'];
    const main = (n: number) =>
      `<main>\n${Array.from({ length: 9 }, (_, i) => {
        const kind = kinds[(n * 7 + i * (n + 1)) % 3]!;
        return `<${kind} class="${kind}"><h3>${words[(n + i) % 12]!}</h3><p>${words[(n * i) % 12]!}</p></${kind}>`;
      }).join('\n')}\n</main>`;
    const { findings } = surveyed(Object.fromEntries(words.map((_, i) => [`p${i}.html`, main(i)])));
    expect(findings.map(({ occurrences: [first] }) => first!.element.tag).sort()).toEqual([
      'article',
      'aside',
      'figure',
    ]);
  });

  test('links that mean the same from every folder stay in the template, whatever stands in it', () => {
    const block = (title: string, links: string[], up: string) =>
      `<section class="block">\n<h2 class="block__title">${title}</h2>\n<ul>\n${links.map((to) => `<li><a href="${up}${to}.html">Go to ${to}</a></li>`).join('\n')}\n</ul>\n</section>`;
    const footer = (up: string) =>
      `<footer class="foot">\n<p class="foot__note">Sailings depend on wind and tide</p>\n${block('Travel', ['tide', 'quay', 'pier'], up)}\n${block('Company', ['boats', 'crew'], up)}\n</footer>`;
    const { findings } = surveyed({
      'a.html': footer(''),
      'b.html': footer(''),
      'isles/c.html': footer('../'),
      'isles/d.html': footer('../'),
    });
    const whole = findings.find(({ occurrences: [first] }) => first!.element.tag === 'footer')!;
    expect(whole.props).toEqual([]);
    expect(whole.file).toContain('<a href="../tide.html">Go to tide</a>');
    expect(whole.uses).toEqual(Array(4).fill(`<${whole.name}></${whole.name}>`));
    expect(componentFile(whole.name, whole.general!)).toContain(whole.name);
  });

  test('a second survey passes over what the first one passed over', () => {
    const card = (i: number) =>
      `<article class="boat">\n<h3 class="boat__name">${words[i]!}</h3>\n<p class="boat__text"><b>Calls at</b> <i>every quay</i> ${words[i + 1]!}</p>\n</article>`;
    const pages = [0, 4, 8].map((n, i) =>
      parsePage(`p${i}.html`, page([0, 1, 2].map((at) => card(n + at)).join('\n'))),
    );
    const { findings } = survey(pages, new Map(), options);
    expect(findings.length).toBeGreaterThan(0);
    const plan = planLift({ pages, components: [], findings, componentFolder: 'components' });
    const registry = readComponents(plan.components);
    const lifted = [...plan.pages.map(({ path, after }) => parsePage(path, after)), ...templatesOf(registry)];
    expect(survey(lifted, registry, options).findings).toEqual([]);
  });
});

test('the order of the files changes no place, no name and no byte of a component', () => {
  fc.assert(
    fc.property(sites, fc.nat(), (sources, turn) => {
      const pages = sources.map((source, i) => parsePage(`p${i}.html`, source));
      const from = turn % pages.length;
      const told = (order: typeof pages) =>
        survey(order, new Map(), options)
          .findings.map(({ name, file, occurrences }) => ({
            name,
            file,
            places: occurrences.map(({ page: { path }, element }) => `${path} ${element.start}`).sort(),
          }))
          .sort((a, b) => (a.name < b.name ? -1 : 1));
      expect(told([...pages.slice(from), ...pages.slice(0, from)])).toEqual(told(pages));
    }),
    { numRuns: 100 },
  );
});
