/** Modules as one classic script, which a page that is opened from disk can load. */
import { parse } from 'acorn';

const ABOUT = '/** All elements of this site as one script: the modules beside it, one after the other. */';

/**
 * All modules in one scope of their own, where they need no import and export nothing.
 * @param texts of the module that all share, then of the others; no two declare the same name
 * @returns text in ASCII, for a page in another encoding reads the script in that; a formatter leaves it as it is
 * @throws SyntaxError where a text is no module
 */
export function classicScript(texts: readonly string[]): string {
  const [base = '', ...others] = texts.map(withoutModuleSyntax);
  const parts = [base.replace('import.meta.url', 'document.currentScript.src'), ...others];
  const code = `${ABOUT}\n// prettier-ignore\n(() => {\n'use strict';\n\n${parts.join('\n\n')}\n})();\n`;
  return code.replace(/[\u0080-\uffff]/g, (char) => `\\u${char.charCodeAt(0).toString(16).padStart(4, '0')}`);
}

/** A module without its imports, and with what it exports only declared. */
function withoutModuleSyntax(text: string): string {
  let kept = '';
  let at = 0;
  for (const node of parse(text, { ecmaVersion: 'latest', sourceType: 'module' }).body) {
    if (node.type !== 'ImportDeclaration' && node.type !== 'ExportNamedDeclaration') continue;
    kept += text.slice(at, node.start);
    at = node.type === 'ExportNamedDeclaration' ? (node.declaration?.start ?? node.end) : node.end;
  }
  return (kept + text.slice(at)).trim();
}
