/** Pages of the preview itself. */

const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };

/** Text as markup. */
function escaped(text: string): string {
  return text.replace(/[&<>"]/g, (character) => ESCAPES[character]!);
}

/** All pages of the site, for who asks for one that is not there. */
export function listPage(path: string, pages: readonly string[]): string {
  const title = path === '' ? 'Pages of this site' : `There is no page or file “${path}”`;
  const link = (each: string) =>
    `<li><a href="/${escaped(each.split('/').map(encodeURIComponent).join('/'))}">${escaped(each)}</a></li>`;
  return `<!DOCTYPE html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<meta name="color-scheme" content="light dark">
<title>${escaped(title)}</title>
<style>
body { font: 16px/1.6 ui-sans-serif, system-ui, sans-serif; max-width: 44rem; margin: 3rem auto; padding: 0 1rem }
h1 { font-size: 1.3rem }
ul { padding: 0; list-style: none; border-top: 1px solid #8886 }
li { border-bottom: 1px solid #8886 }
a { display: block; padding: .45rem 0; color: inherit; font-family: ui-monospace, monospace; font-size: .9rem }
</style>
</head>
<body>
<h1>${escaped(title)}</h1>
<ul>
${pages.map(link).join('\n')}
</ul>
</body>
</html>
`;
}
