/** Reads a journal entry back, validated: what undo acts on must be what was written. */
import Joi from 'joi';
import { Problem } from '../core/errors.js';
import type { Entry } from './journal.js';

const name = Joi.string().hex().length(64).required();
const inside = Joi.string()
  .pattern(/^(?!\/|[a-z]:|.*(^|\/)\.\.(\/|$))/i)
  .required();

const offset = Joi.number().integer().min(0);

const named = Joi.object({ component: Joi.string().required(), path: inside }).required();

const schema = Joi.object<Entry>({
  format: Joi.valid(1).required(),
  id: Joi.number().integer().min(1).required(),
  state: Joi.valid('writing', 'done', 'undoing').required(),
  command: Joi.string().required(),
  at: Joi.string().isoDate().required(),
  files: Joi.array()
    .items({
      path: inside,
      before: name.allow(null),
      after: name.allow(null),
      origin: name.allow(null),
      encoding: Joi.string().pattern(/^[\w-]{1,40}$/),
      bom: Joi.boolean(),
    })
    .required(),
  folders: Joi.array().items(inside.optional()).required(),
  unified: Joi.array().items({
    path: inside,
    line: Joi.number().integer().min(1).required(),
    column: Joi.number().integer().min(1).required(),
    prop: Joi.string().required(),
    was: Joi.string().allow('').required(),
    now: Joi.string().allow('').required(),
  }),
  cuts: Joi.array().items({
    path: inside,
    base: name,
    shares: Joi.array()
      .items({
        component: Joi.string().required(),
        path: inside,
        units: Joi.array().items(offset).required(),
        anchor: offset.required(),
      })
      .required(),
  }),
  renamed: Joi.array().items({ from: named, to: named }),
  mark: name.optional(),
});

/** @throws Problem when the file is not an entry */
export function validateEntry(json: string): Entry {
  try {
    return Joi.attempt<Joi.ObjectSchema<Entry>>(JSON.parse(json), schema);
  } catch (error) {
    throw new Problem(`cannot be read (${(error as Error).message})`);
  }
}
