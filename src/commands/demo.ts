/** `demo`: the whole job on the shipped site, in a fresh temporary folder. */
import type { Command } from 'commander';
import { cpSync, existsSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Problem } from '../core/errors.js';
import { checkProject } from '../operations/check.js';
import { expandProject } from '../operations/expand.js';
import { liftProject } from '../operations/lift.js';
import { bold, count, green, number } from '../terminal/style.js';
import { hint, print } from './printing.js';
import { samenessText } from './sameness.js';
import { findingTable } from './surveyed.js';

const SITE = fileURLToPath(new URL('../../demo/site', import.meta.url));

export function define(program: Command): void {
  program
    .command('demo')
    .description('do the whole job on the shipped demo site, in a temporary folder')
    .addHelpText('after', '\nExample:\n  estrade demo')
    .action(async () => {
      if (!existsSync(SITE)) throw new Problem('the demo site is not installed', { hint: 'install the package again' });
      const folder = mkdtempSync(join(tmpdir(), 'estrade-demo-'));
      cpSync(SITE, folder, { recursive: true });
      print(`${bold('The site')} of an island ferry company, copied to ${folder}\n`);

      const { plan, findings, surveyed, moving } = await liftProject(folder, [], { recommended: true, styles: 'move' });
      print(`${bold('survey')} found in ${count(surveyed.pages.length, 'page')}:\n`);
      print(findingTable(findings));
      const uses = [...plan.uses.values()].reduce((sum, each) => sum + each, 0);
      print(`\n${bold('lift')} wrote ${count(plan.components.length, 'component')} and ${count(uses, 'use')} of them.`);
      if (moving !== null) {
        const rules = [...moving.plan.moved.values()].flat().length;
        const dressed = count(moving.plan.moved.size, 'component');
        print(`${bold('styles')} that are one component's own went along: ${count(rules, 'rule')} into ${dressed}.`);
      }

      const site = await expandProject(folder, { out: 'dist' });
      print(
        `${bold('expand')} built the static site again: ${count(site.pages, 'page')}, ${number(site.copied)} other files.`,
      );

      const checked = await checkProject(folder);
      const verdict = samenessText(checked.pages.map(({ same }) => same));
      print(`${bold('check')} compared it with the originals: ${checked.passed ? green(verdict) : verdict}.`);
      for (const { path, same } of checked.stylesheets)
        print(`${' '.repeat(6)}${path}: ${same === 'cascade' ? 'the same declarations win for every element' : same}.`);
      print(`\nLook at ${join(folder, 'components')}, at index.html beside it, and at dist/index.html in a browser.`);
      hint(`Then: cd ${folder} && ${programName()} undo`);
      process.exitCode = checked.passed ? 0 : 1;
    });
}

/** How this program was called, as far as it can be called again from another folder. */
function programName(): string {
  const path = process.argv[1] ?? '';
  return path.endsWith('.js') ? `node ${path}` : 'estrade';
}
