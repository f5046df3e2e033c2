/** How a report looks. */
export const REPORT_STYLES = `
:root {
  color-scheme: light dark;
  --ink: light-dark(#1d2730, #e9e4d8); --soft: light-dark(#55606a, #b3aea2); --ground: light-dark(#fffaf2, #161d24);
  --sheet: light-dark(#ffffff, #1e2730); --line: light-dark(#1d273024, #e9e4d829);
  --mark: light-dark(#0b6e69, #5cc9c1); --tint: light-dark(#0b6e6914, #5cc9c11f); --trouble: light-dark(#a3301a, #f6a188);
  --code: ui-monospace, Menlo, Consolas, monospace;
}
* { box-sizing: border-box }
body {
  margin: 0; font: 16px/1.55 ui-sans-serif, system-ui, "Segoe UI", sans-serif; color: var(--ink); background: var(--ground);
  display: grid; grid-template-columns: 250px minmax(0, 1fr);
}
.skip { position: absolute; left: -9999px }
.skip:focus { left: 12px; top: 8px; z-index: 3; padding: 6px 12px; background: var(--sheet) }
a { color: var(--mark); text-underline-offset: 2px }
:focus-visible { outline: 2px solid var(--mark); outline-offset: 2px }
nav {
  position: sticky; top: 0; height: 100vh; overflow: auto; padding: 26px 14px 26px 24px; font-size: 14px;
  border-inline-end: 1px solid var(--line);
}
nav p { margin: 0 0 12px; font-weight: 650 }
nav ul { list-style: none; margin: 0 0 14px; padding: 0 }
nav a { display: block; padding: 2px 8px; color: inherit; text-decoration: none; border-radius: 3px; overflow-wrap: anywhere }
nav a:hover { background: var(--tint) }
nav ul ul { margin: 2px 0 6px; border-inline-start: 1px solid var(--line); margin-inline-start: 8px }
nav input {
  width: 100%; margin: 0 0 12px; padding: 5px 9px; font: inherit; color: inherit; background: var(--sheet);
  border: 1px solid light-dark(#1d273080, #e9e4d880); border-radius: 3px;
}
main { padding: 40px 48px 80px; max-width: 1120px }
h1 { margin: 0; font-size: 34px; line-height: 1.15; font-weight: 700; letter-spacing: -.01em; overflow-wrap: anywhere }
.lead { margin: 8px 0 0; font-size: 18px; color: var(--soft); max-width: 62ch }
h2 { margin: 58px 0 12px; padding-top: 12px; font-size: 24px; line-height: 1.2; border-top: 3px solid var(--mark) }
h3 { margin: 0; font-size: 20px; overflow-wrap: anywhere }
h4, h3.minor { margin: 22px 0 6px; font-size: 15px }
p { margin: 6px 0; max-width: 75ch }
.quiet { color: var(--soft) }
.odd { color: var(--trouble); font-weight: 650 }
.scroll { overflow-x: auto }
table { border-collapse: collapse; font-size: 14px; width: 100% }
caption { text-align: start; color: var(--soft); padding-bottom: 6px; font-size: 14px }
th, td { text-align: start; vertical-align: top; padding: 4px 14px 4px 0; border-bottom: 1px solid var(--line) }
th { font-weight: 600 }
thead th { color: var(--soft); white-space: nowrap; vertical-align: bottom }
thead button { font: inherit; color: inherit; padding: 0; border: 0; background: none; cursor: pointer }
thead button::after { content: " ↕"; opacity: .6 }
th[aria-sort=ascending] button::after { content: " ↑"; opacity: 1 }
th[aria-sort=descending] button::after { content: " ↓"; opacity: 1 }
td.n, th.n { text-align: end; font-variant-numeric: tabular-nums; white-space: nowrap }
code { white-space: nowrap }
pre code, details code { white-space: inherit }
td.code, code, pre { font-family: var(--code); font-size: 13px }
td.code { white-space: nowrap }
td.value { overflow-wrap: anywhere; min-width: 7em }
.bars { min-width: 180px; width: 45% }
.bars svg { display: block; width: 100%; height: 18px }
figure { margin: 26px 0 12px }
figcaption { font-size: 14px; color: var(--soft); margin: 6px 0 0 }
.totals { display: block; width: 100%; height: auto }
svg text { fill: var(--ink); font-family: ui-sans-serif, system-ui, sans-serif }
.before { fill: light-dark(#b9c4c3, #56666b) } .after { fill: var(--mark) }
.own { fill: light-dark(#d8d2c4, #46505a) }
.c0 { fill: light-dark(#0b6e69, #5cc9c1) } .c1 { fill: light-dark(#3f8580, #45aaa3) }
.c2 { fill: light-dark(#2f6b82, #7fb4cc) } .c3 { fill: light-dark(#8a5f14, #d8ad63) }
svg .on { fill: light-dark(#fff, #10201f) } svg .onpale { fill: light-dark(#1d2730, #e9e4d8) }
.map { width: auto }
.map td, .map thead th { padding: 2px 3px; text-align: center; font-variant-numeric: tabular-nums }
.map tbody th { padding-block: 2px; white-space: nowrap; font-weight: 500 }
.map thead th span { writing-mode: vertical-rl; transform: rotate(180deg); font-weight: 500; font-size: 12px; max-height: 190px; overflow: hidden; text-overflow: ellipsis }
.map td { min-width: 28px; font-size: 12px; border-inline-start: 1px solid var(--line) }
.map .some { background: var(--tint); font-weight: 600 }
.part { margin: 26px 0 0; padding: 22px 26px 24px; background: var(--sheet); border: 1px solid var(--line); border-radius: 6px }
.part header { display: flex; flex-wrap: wrap; gap: 2px 14px; align-items: baseline }
.part header p { margin: 0; color: var(--soft) }
.part img { display: block; max-width: 100%; height: auto; border: 1px solid var(--line); border-radius: 3px }
.sources { display: grid; grid-template-columns: repeat(auto-fit, minmax(min(100%, 400px), 1fr)); gap: 0 22px }
pre {
  margin: 0; padding: 12px 14px; line-height: 1.5; overflow: auto; max-height: 380px; tab-size: 2; unicode-bidi: plaintext;
  background: light-dark(#1d27300a, #0000003d); border-radius: 4px;
}
summary { cursor: pointer; margin-top: 10px; font-size: 14px; color: var(--mark) }
.sides td.value { width: 28% }
.sides a { white-space: nowrap }
.sides .here { color: var(--trouble) }
.hljs-tag, .hljs-punctuation { color: var(--soft) } .hljs-name, .hljs-selector-tag, .hljs-keyword { color: var(--mark); font-weight: 600 }
.hljs-attr, .hljs-attribute, .hljs-selector-class { color: light-dark(#7a4b00, #e8bf78) } .hljs-string { color: light-dark(#3a5a00, #b9d48a) }
.hljs-comment { color: var(--soft); font-style: italic } .hljs-template-variable { color: light-dark(#a3301a, #f6a188); font-weight: 600 }
[hidden] { display: none !important }
@media (max-width: 800px) {
  body { display: block }
  nav { position: static; height: auto; padding: 18px 18px 4px; border: 0; border-bottom: 1px solid var(--line) }
  nav ul ul { display: none }
  nav > ul > li { display: inline-block }
  main { padding: 22px 18px 60px }
  .part { padding: 16px 16px 18px; margin-inline: -4px }
  h1 { font-size: 27px }
}
@media print {
  :root { color-scheme: light; --ground: #fff; --sheet: #fff }
  body { display: block; font-size: 10.5pt }
  nav, .skip { display: none }
  main { padding: 0; max-width: none }
  .part { border: 0; border-top: 1px solid #999; border-radius: 0; padding: 10px 0 }
  h2, h3, h4, caption { break-after: avoid }
  img, tr, figure { break-inside: avoid }
  pre { max-height: none; white-space: pre-wrap; overflow-wrap: anywhere; border: 1px solid #ccc }
  details::details-content { content-visibility: visible; block-size: auto }
  .scroll { overflow: visible }
  * { print-color-adjust: exact }
}
`;
