// Generates pages of about 300 elements, the way sites are: a shared frame, cards, rows, notices, and prose between.

/** A small seeded generator (mulberry32), so that every run measures the same pages. */
export function random(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const WORDS =
  'tide quay ferry harbour gull deck rope bell lamp north wind pier sail salt sound cabin stern morning'.split(' ');

export function page(number) {
  const next = random(number + 1);
  const pick = (list) => list[Math.floor(next() * list.length)];
  const words = (count) => Array.from({ length: count }, () => pick(WORDS)).join(' ');
  const out = [];
  let elements = 0;
  const add = (count, text) => {
    elements += count;
    out.push(text);
  };
  add(
    22,
    `<!DOCTYPE html>
<html lang="en">
<head>
  <meta charset="utf-8">
  <title>${words(3)}</title>
  <link rel="stylesheet" href="site.css">
</head>
<body>
  <header class="top">
    <a class="brand" href="index.html"><img src="mark.svg" alt=""> Ferries</a>
    <nav><ul>
      <li><a href="a.html">Sailings</a></li>
      <li><a href="b.html">Fares</a></li>
      <li><a href="c.html">Boats</a></li>
      <li><a href="d.html">Harbours</a></li>
    </ul></nav>
  </header>
  <main>
`,
  );
  while (elements < 290) {
    const kind = Math.floor(next() * 4);
    if (kind === 0)
      add(
        6,
        `    <article class="card card--${pick(['calm', 'late', 'storm'])}">
      <h3><a href="${pick(WORDS)}.html">${words(3)}</a></h3>
      <img src="img/${pick(WORDS)}.jpg" alt="${words(2)}">
      <p class="card__text">${words(12)}</p>
      <p class="card__note">${words(4)}</p>
    </article>
`,
      );
    else if (kind === 1) {
      const rows = 2 + Math.floor(next() * 6);
      add(1 + rows * 4, '    <table><tbody>\n');
      for (let i = 0; i < rows; i++)
        out.push(`      <tr><td>${words(1)}</td><td>${Math.floor(next() * 60)}</td><td>${words(2)}</td></tr>\n`);
      out.push('    </tbody></table>\n');
    } else if (kind === 2) add(3, `    <section class="notice"><h2>${words(3)}</h2><p>${words(20)}</p></section>\n`);
    else {
      // prose that is like nothing else
      const parts = 1 + Math.floor(next() * 6);
      add(1 + parts, '    <div>');
      for (let i = 0; i < parts; i++) {
        const tag = pick(['p', 'blockquote', 'em', 'strong', 'span', 'h4']);
        out.push(`<${tag}>${words(1 + Math.floor(next() * 15))}</${tag}>`);
      }
      out.push('</div>\n');
    }
  }
  out.push(`  </main>
  <footer class="foot"><p>&copy; Ferries</p><ul><li><a href="x.html">Contact</a></li><li><a href="y.html">Lost property</a></li></ul></footer>
</body>
</html>
`);
  return out.join('');
}

/** Rules for what stands on the pages, and some for what does not. */
export const STYLESHEET = [
  'body { margin: 0; font: 1rem/1.5 serif }',
  '.top { display: flex; gap: 1rem } .top nav ul { display: flex; list-style: none } .top .brand img { height: 2rem }',
  '.card { border: 1px solid } .card h3 { margin: 0 } .card__text { color: #333 } .card__note { font-size: .8rem }',
  ...['calm', 'late', 'storm'].map((kind) => `.card--${kind} { border-color: var(--${kind}) }`),
  'table { border-collapse: collapse } tr:nth-child(2n) td { background: #eee } td + td { padding-left: 1rem }',
  '.notice { padding: 1rem } .notice > h2:first-child { margin: 0 } .foot ul li a:hover { color: red }',
  ...Array.from({ length: 200 }, (_, i) => `.unused-${i} .card__text, .unused-${i}:hover > a { margin: ${i}px }`),
].join('\n');
