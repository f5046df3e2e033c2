/** Finds a target by its name, or loads one of the user's own. */
import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Emitted, Target } from '../core/emit/model.js';
import { nearestName } from '../core/component/problems.js';
import { Problem } from '../core/errors.js';
import { importModule } from './import.js';

export const TARGETS = ['tsx', 'jsx', 'elements'] as const;

/**
 * The target that `name` means: a built-in one, or a module whose default export is one.
 * @throws Problem when there is none
 */
export async function findTarget(name: string, cwd: string): Promise<Target> {
  if (name === 'tsx' || name === 'jsx') return (await import('../core/emit/tsx/index.js'))[name];
  if (name === 'elements') return (await import('../core/emit/elements/index.js')).elements;
  const fail = (message: string, details: string[] = []): never => {
    throw new Problem(message, { details, hint: 'docs/targets.md tells how a target is written' });
  };
  if (!/\.[mc]?js$/.test(name))
    throw new Problem(`"${name}" is no target`, {
      hint: `${nearestName(name, TARGETS) === null ? '' : `did you mean ${nearestName(name, TARGETS)!}? `}there are ${TARGETS.join(', ')}, and modules of your own: estrade emit ./my-target.mjs`,
    });
  const path = resolve(cwd, name);
  if (!existsSync(path))
    throw new Problem(`there is no file ${name}`, { hint: 'a target of your own is a path to its module' });
  let module: { default?: unknown };
  try {
    module = await importModule(pathToFileURL(path).href);
  } catch (error) {
    return fail(`the target ${name} cannot be loaded: ${(error as Error).message}`);
  }
  const target = module.default;
  if (typeof target !== 'function') return fail(`the target ${name} has no default export that is a function`);
  return async (site, options) => {
    let emitted: unknown;
    try {
      emitted = await (target as Target)(site, options);
    } catch (error) {
      const own = (error as Error).stack?.split('\n').find((line) => line.includes(path));
      return fail(
        `the target ${name} failed: ${error instanceof Error ? error.message : String(error)}; nothing was written`,
        own === undefined ? [] : [own.trim()],
      );
    }
    return validated(emitted, name);
  };
}

async function validated(emitted: unknown, name: string): Promise<Emitted> {
  const { default: Joi } = await import('joi');
  const place = Joi.object({ path: Joi.string(), line: Joi.number(), column: Joi.number() }).allow(null).default(null);
  const schema = Joi.object({
    files: Joi.array()
      .items(
        Joi.object({
          path: Joi.string().required(),
          text: Joi.string().allow(''),
          format: Joi.boolean(),
          like: Joi.string(),
          from: Joi.array().items(Joi.string()),
          join: Joi.function(),
          copy: Joi.string(),
        })
          .xor('text', 'join', 'copy')
          .and('from', 'join'),
      )
      .required(),
    remarks: Joi.array()
      .items(
        Joi.object({
          kind: Joi.valid('unsayable', 'decided').default('decided'),
          message: Joi.string().required(),
          place,
        }),
      )
      .default([]),
  }).required();
  const { error, value } = schema.validate(emitted) as { error?: Error; value: Emitted };
  if (error !== undefined)
    throw new Problem(
      `the target ${name} gives back something else than files: ${error.message}; nothing was written`,
      {
        hint: 'docs/targets.md tells what a target gives back',
      },
    );
  return value;
}
