/** How the overlay of the preview looks. */
export const OVERLAY_STYLES = `
.outlines, aside {
  color-scheme: light dark;
  --ink: light-dark(#1d2730, #e9e4d8); --ground: light-dark(#fffaf2, #1b242c); --line: light-dark(#1d273026, #e9e4d82e);
  --mark: light-dark(#0b6e69, #5cc9c1); --on-mark: light-dark(#fff, #10201f);
}
.possible { --mark: light-dark(#8a5a00, #e0b163) }
.outlines { --edge: #0b6e69; --fill: #0b6e691f }
.outlines.possible { --edge: #8a5a00; --fill: #8a5a001f }
.outlines { position: fixed; inset: 0; overflow: hidden; pointer-events: none !important }
.outline {
  position: absolute; top: 0; left: 0; box-sizing: border-box; border: 1px dashed var(--edge); outline: 1px dashed #ffffffb3;
  outline-offset: -2px; border-radius: 2px;
}
.outline[hidden], .outline.gone { display: none }
.outline span {
  position: absolute; top: 0; left: 0; max-width: 100%; overflow: hidden; text-overflow: ellipsis; white-space: nowrap;
  box-sizing: border-box; padding: 0 6px; font: 600 11px/17px ui-sans-serif, system-ui, sans-serif; color: #fff;
  background: var(--edge); border-radius: 0 0 3px 0; opacity: .82;
}
.outline.small span { display: none }
.outline.pointed { border: 2px solid var(--edge); background: var(--fill); z-index: 1 }
.outline.pointed span { display: block; opacity: 1 }
aside {
  position: fixed; inset: 12px 12px 12px auto; width: 290px; box-sizing: border-box; display: flex; flex-direction: column;
  font: 14px/1.45 ui-sans-serif, system-ui, sans-serif; color: var(--ink); background: var(--ground);
  border-top: 4px solid var(--mark); border-radius: 4px; box-shadow: 0 8px 40px #0007;
}
header { display: flex; flex-wrap: wrap; align-items: center; padding: 10px 12px 8px 14px; gap: 8px }
h2 { flex: 1; margin: 0; font-size: 15px; font-weight: 650; min-width: 130px }
button { font: inherit; color: inherit; background: none; border: 0; cursor: pointer; text-align: start }
button:focus-visible { outline: 2px solid var(--mark); outline-offset: -2px }
aside.left { inset: 12px auto 12px 12px }
aside.waiting ul, aside.waiting .details { opacity: .4 }
.plain, .ways button { font-size: 12px; padding: 3px 9px; border: 1px solid var(--line); border-radius: 3px }
.ways { display: flex; flex-basis: 100%; gap: 6px }
.ways button[aria-pressed=true] { color: var(--on-mark); background: var(--mark) }
ul { list-style: none; margin: 0; padding: 0; overflow: auto; flex: 1 1 40%; min-height: 90px; border-top: 1px solid var(--line) }
li button { display: flex; width: 100%; padding: 4px 14px; gap: 8px; border-inline-start: 3px solid transparent }
li button span:first-child { flex: 1; overflow: hidden; text-overflow: ellipsis; white-space: nowrap }
li button:hover, li button.pointed { background: var(--line) }
li button[aria-pressed=true] { border-color: var(--mark); color: var(--on-mark); background: var(--mark) }
.count { opacity: .75; font-variant-numeric: tabular-nums }
.details { flex: 1 1 60%; overflow: auto; padding: 12px 14px; border-top: 1px solid var(--line) }
h3 { margin: 0 0 6px; font-size: 15px; color: var(--mark) }
dl { display: grid; grid-template-columns: auto minmax(0, 1fr); gap: 2px 10px; margin: 0 0 10px; font-size: 12px }
dt { opacity: .75 }
dd { margin: 0; font-family: ui-monospace, Menlo, Consolas, monospace; overflow-wrap: anywhere }
table { width: 100%; border-collapse: collapse; font-size: 13px }
tr { border-top: 1px solid var(--line) }
th { font-weight: 600; text-align: start; vertical-align: top; padding: 3px 10px 3px 0; white-space: nowrap }
td { padding: 3px 0; overflow-wrap: anywhere }
.quiet { opacity: .75 }
small { font-size: 11px }
.hint { margin: 6px 0 0; font-size: 13px; opacity: .85 }
.said { margin: 10px 0 0; font-size: 13px; color: var(--mark) }
.told { margin: 0 0 6px; font-size: 13px }
.command {
  display: block; width: 100%; margin: 0 0 10px; padding: 5px 8px; overflow-wrap: anywhere; border-radius: 3px;
  font: 12px/1.4 ui-monospace, Menlo, Consolas, monospace; background: var(--line);
}
dd button, .rules button { padding: 0; font: inherit; text-decoration: underline dotted; text-underline-offset: 2px; overflow-wrap: anywhere }
.rules ol { list-style: none; margin: 2px 0 0; padding: 0; font: 12px/1.5 ui-monospace, Menlo, Consolas, monospace }
.rules li { padding: 0 }
a { color: var(--mark) }
@media (max-width: 560px) {
  aside, aside.left { inset: auto 0 0 0; width: auto; height: 46vh; border-radius: 0 }
  ul { flex-basis: 35% }
}
`;
