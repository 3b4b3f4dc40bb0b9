/** The page that plays a clip file: all of it in one file, so that it opens from a disk. */
import type { ClipFile } from '../../../player/file/format';
import type { PageData } from '../../../player/page/looks';

const escaped = (text: string) =>
	text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign]!);
/** JSON that can stand within a script's tags. */
const data = (value: unknown) => JSON.stringify(value).replaceAll('<', '\\u003c');
const script = (code: string) => code.replaceAll('</script', '<\\/script');

const STYLE = `:root { color-scheme: light dark; --paper: #f7f5ef; --ink: #22303a; --line: #c9c3b4; --key: #e9e4d6 }
@media (prefers-color-scheme: dark) { :root { --paper: #1c242a; --ink: #e9e4d6; --line: #3a464e; --key: #2a353d } }
* { box-sizing: border-box }
body { margin: 0; height: 100dvh; display: grid; grid-template-rows: auto auto 1fr auto; background: var(--paper); color: var(--ink); font: 15px/1.5 system-ui, sans-serif }
h1 { margin: 0; padding: 12px 16px 4px; font-size: 17px }
nav { display: flex; flex-wrap: wrap; gap: 6px; padding: 4px 16px 8px }
nav div { display: contents }
nav div[hidden] { display: none }
#acts::before { content: ''; width: 1px; margin: 4px; background: var(--line) }
button { min-height: 32px; padding: 2px 12px; border: 1px solid var(--line); border-radius: 4px; background: var(--key); color: inherit; font: inherit; cursor: pointer }
button:hover { border-color: var(--ink) }
label { display: flex; align-items: center; gap: 6px }
#stage { position: relative; overflow: hidden; min-height: 0; border-block: 1px solid var(--line); touch-action: none }
#stage canvas { display: block }
#stage [data-root] { position: absolute; left: 0; top: 0; width: 0; height: 0; transform-origin: 0 0 }
#stage [data-part] { position: absolute; transform-origin: 0 0 }
#stage i, #stage svg, #stage span { position: absolute; inset: 0; width: 100%; height: 100%; border-radius: inherit; overflow: visible; white-space: nowrap }
ol { margin: 0; padding: 6px 16px; height: 68px; overflow-y: auto; list-style: none; font: 13px/20px ui-monospace, monospace }
li:not(:first-child) { opacity: 0.65 }`;

export function writePage(title: string, file: ClipFile, page: PageData, code: string): string {
	return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escaped(title)}</title>
<link rel="icon" href="data:,">
<style>
${STYLE}
</style>
</head>
<body>
<h1>${escaped(title)}</h1>
<nav aria-label="what can be played"><div id="clips"></div><div id="acts"></div></nav>
<div id="stage"></div>
<ol id="told" role="log" tabindex="0" aria-label="what was told"></ol>
<script type="application/json" id="clip-file">${data(file)}</script>
<script type="application/json" id="page-data">${data(page)}</script>
<script>${script(code)}</script>
</body>
</html>
`;
}
