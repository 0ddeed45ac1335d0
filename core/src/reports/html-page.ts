/** The look of the page, in the colours of the application; on paper black on white. */
export const PAGE_STYLE = `
:root { --paper: #f6f1e7; --card: #fffdf8; --ink: #221e18; --dim: #5f574a; --line: #d9cfbd; --error: #9c2f22; --warning: #7d5a00; --note: #4c6238; --mark: #f6e2b3; }
@media (prefers-color-scheme: dark) { :root { --paper: #1d1a16; --card: #262219; --ink: #ece4d4; --dim: #b3a893; --line: #453e31; --error: #f0907f; --warning: #e0b64c; --note: #a9c48a; --mark: #4d3f1d; } }
* { box-sizing: border-box; }
body { margin: 0 auto; max-width: 62rem; padding: 1.5rem; background: var(--paper); color: var(--ink); font: 15px/1.5 system-ui, sans-serif; }
h1 { margin: 0; font-size: 1.6rem; }
h2 { margin: 0; font-size: 1.05rem; overflow-wrap: anywhere; }
p { margin: .35rem 0; }
.verdict { font-size: 1.15rem; font-weight: 600; }
.not-ready, .error .severity, .new { color: var(--error); }
.ready, .note .severity { color: var(--note); }
.warning .severity { color: var(--warning); }
svg { display: block; margin: .8rem 0; max-width: 100%; height: auto; font: 12px system-ui, sans-serif; }
svg text { fill: var(--ink); }
figure { margin: .8rem 0; } figcaption { color: var(--dim); font-size: .85rem; }
.stop { fill: var(--card); stroke: var(--line); stroke-width: 1.5; } .start { stroke: var(--ink); stroke-width: 2.5; } .name { font-weight: 600; }
rect.stop.error { stroke: var(--error); } rect.stop.warning { stroke: var(--warning); }
.way { fill: none; stroke: var(--dim); stroke-width: 1.3; } .way.path { stroke-dasharray: 9 3; } .way.name { stroke-dasharray: 4 4; } .way.built { stroke-dasharray: 1.5 4; } marker path { fill: var(--dim); }
rect.error:not(.stop) { fill: var(--error); } rect.warning:not(.stop) { fill: var(--warning); } rect.note:not(.stop) { fill: var(--note); }
form { display: flex; flex-wrap: wrap; gap: .4rem 1.1rem; align-items: center; padding: .7rem 0; border-block: 1px solid var(--line); position: sticky; top: 0; background: var(--paper); }
form[hidden], article[hidden] { display: none; }
input, select { font: inherit; color: inherit; background: var(--card); border: 1px solid var(--line); border-radius: 4px; padding: .15rem .4rem; max-width: 11rem; }
output { color: var(--dim); }
article { background: var(--card); border: 1px solid var(--line); border-left: 4px solid var(--line); border-radius: 4px; padding: .8rem 1rem; margin: .9rem 0; }
article.error { border-left-color: var(--error); } article.warning { border-left-color: var(--warning); } article.note { border-left-color: var(--note); }
.marks, .sure, .check { color: var(--dim); } .marks { margin: 0; font-size: .85rem; } .severity, .new, .waived { font-weight: 600; }
code, pre { font: 12.5px/1.5 ui-monospace, monospace; }
code { overflow-wrap: anywhere; }
ul, ol { margin: .4rem 0; padding-left: 1.3rem; }
pre { margin: .3rem 0; padding: .4rem 0; border: 1px solid var(--line); border-radius: 4px; overflow-x: auto; white-space: pre-wrap; overflow-wrap: anywhere; tab-size: 2; }
.line { display: block; padding-left: 4.3rem; text-indent: -4.3rem; padding-right: .6rem; } .marked { background: var(--mark); }
.number { display: inline-block; width: 3.5rem; text-indent: 0; margin-right: .8rem; text-align: right; color: var(--dim); user-select: none; }
@page { margin: 14mm; }
@media print {
  :root { --paper: #fff; --card: #fff; --ink: #000; --dim: #333; --line: #999; --error: #7a1f14; --warning: #5c4300; --note: #334424; --mark: #eee; }
  body { max-width: none; padding: 0; font-size: 10pt; } form { display: none !important; } h2, .marks { break-after: avoid; } pre, svg { break-inside: avoid; } .marked, rect { print-color-adjust: exact; }
}
`;

/** Narrows what is shown. Without scripts all of it is there. */
export const PAGE_SCRIPT = `
const form = document.getElementById('filters');
const all = [...document.querySelectorAll('article')];
const words = all.map((one) => one.textContent.toLowerCase());
const is = (name) => form.elements[name] === undefined || form.elements[name].checked;
function narrow() {
  const check = form.elements.check.value;
  const wanted = form.elements.words.value.toLowerCase().split(/\\s+/).filter(Boolean);
  let shown = 0;
  all.forEach((one, at) => {
    const { severity, since } = one.dataset;
    const isWaived = 'waived' in one.dataset;
    const fits = (isWaived ? is('waived') : is(severity)) && (since !== 'known' || is('known')) &&
      (check === '' || check === one.dataset.check) && wanted.every((word) => words[at].includes(word));
    one.hidden = !fits;
    if (fits) shown++;
  });
  form.elements.shown.value = shown + ' of ' + all.length;
  document.getElementById('nothing').hidden = shown > 0 || all.length === 0;
}
form.hidden = all.length === 0;
form.addEventListener('input', narrow);
form.addEventListener('submit', (event) => event.preventDefault());
if (all.length > 0) narrow();
`;
