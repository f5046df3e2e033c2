/** What the configuration may hold, as a Joi schema. A module of its own, so that only a project with a file loads it. */
import Joi from 'joi';
import { FILE_CASES } from '../core/component/file-names.js';
import { LAYOUTS } from '../core/library/arrange.js';
import { parsePage } from '../core/page/parse.js';
import { selectIn } from '../core/page/select.js';
import { ROLES } from '../core/words/vocabulary.js';
import { type Config, DEFAULT_CONFIG } from './defaults.js';

const whole = Joi.number().integer().strict();

const inside = Joi.string().custom((value: string, helpers) =>
  /^(\/|[a-z]:|\.\.?(\/|$))|(^|\/)\.\.(\/|$)|\\/i.test(value)
    ? helpers.error('string.inside')
    : value.replace(/\/+$/, ''),
);

const pattern = Joi.string().custom((value: string, helpers) =>
  /^(\/|[a-z]:)|(^|[/{,(|!])\.\.([/},)|]|$)/i.test(value) ? helpers.error('string.inside') : value,
);

const selector = Joi.string().custom((value: string, helpers) => {
  try {
    selectIn(parsePage('', '').root, value);
    return value;
  } catch {
    return helpers.error('string.selector');
  }
});

const suffix = Joi.string()
  .allow('')
  .pattern(/^[\w.-]*$/);

const schema = Joi.object({
  pages: Joi.array().items(pattern).min(1),
  ignore: Joi.array().items(Joi.string()),
  assets: Joi.array().items(pattern),
  components: inside,
  data: inside,
  inlineList: whole.min(0),
  maxPageSize: whole.min(1000),
  survey: Joi.object({
    minOccurrences: whole.min(2),
    minElements: whole.min(1),
    minWorth: whole,
    maxProps: whole.min(0),
    minLines: whole.min(1),
    largeLines: whole.min(1),
  }),
  starter: inside.pattern(/\.html$/, 'component files').allow(null),
  leave: Joi.array().items(selector),
  take: Joi.array().items(selector),
  words: Joi.object().pattern(Joi.string(), Joi.valid(...ROLES)),
  arrange: Joi.object({
    layout: Joi.valid(...LAYOUTS).allow(null),
    suffix,
    fileCase: Joi.valid(...FILE_CASES),
    patterns: Joi.object().pattern(
      Joi.string().pattern(/^[a-z0-9._*-]+$/, 'names of components'),
      inside.pattern(/^[\p{L}\p{N}._/-]+$/u, 'folders'),
    ),
  }),
  emit: Joi.object({
    out: inside,
    jsxImport: Joi.string().allow(null),
    attributes: Joi.valid('dom', 'html'),
    slotType: Joi.object({ name: Joi.string().required(), from: Joi.string().required() }).allow(null),
    fileCase: Joi.valid(...FILE_CASES),
    suffix,
    layout: Joi.valid('flat', 'folders'),
    index: Joi.boolean().strict(),
    starter: inside.pattern(/\.[jt]sx$/, 'modules with JSX').allow(null),
    prerender: Joi.boolean().strict(),
    options: Joi.object().unknown(),
  }),
  pictures: Joi.object({
    widths: Joi.array().items(whole.min(200).max(4000)).min(1).unique(),
  }),
  preview: Joi.object({
    editor: Joi.string()
      .pattern(/^(?!(javascript|data|blob|about|file):)[a-z][a-z0-9+.-]*:.*\{path\}/i)
      .messages({
        'string.pattern.base': '{{#label}} must be a URL that opens a file, with the word path in braces in it',
      })
      .allow(''),
  }),
}).messages({
  'string.inside': '{{#label}} must name a folder inside the project, written with /',
  'string.selector': '{{#label}} must be a CSS selector',
});

const ALLOWED: Record<string, string> = {
  '': 'pages, ignore, assets, components, data, inlineList, maxPageSize, survey, starter, leave, take, words, arrange, emit, pictures, preview',
  arrange: 'layout, suffix, fileCase, patterns',
  emit: 'out, jsxImport, attributes, slotType, fileCase, suffix, layout, index, starter, prerender, options',
  pictures: 'widths',
  preview: 'editor',
  survey: 'minOccurrences, minElements, minWorth, maxProps, minLines, largeLines',
};

export type Checked =
  { config: Config } | { message: string; hint: string; path: (string | number)[]; unknown: boolean };

/** Validates what the file holds; defaults fill what it leaves out. */
export function validateConfig(value: unknown): Checked {
  const { error, value: valid } = schema.validate(value) as { error?: Joi.ValidationError; value: Partial<Config> };
  if (error === undefined)
    return {
      config: {
        ...DEFAULT_CONFIG,
        ...valid,
        survey: { ...DEFAULT_CONFIG.survey, ...valid.survey },
        arrange: { ...DEFAULT_CONFIG.arrange, ...valid.arrange },
        emit: { ...DEFAULT_CONFIG.emit, ...valid.emit },
        pictures: { ...DEFAULT_CONFIG.pictures, ...valid.pictures },
        preview: { ...DEFAULT_CONFIG.preview, ...valid.preview },
      },
    };
  const [detail] = error.details;
  const { path } = detail!;
  const unknown = detail!.type === 'object.unknown';
  const key = path.join('.');
  const parent = path.slice(0, -1).join('.');
  return unknown
    ? {
        message: `the key "${key}" is not known`,
        hint: `keys here are ${ALLOWED[parent] ?? ALLOWED['']!}`,
        path,
        unknown,
      }
    : {
        message: detail!.message.replace(/^"value"/, 'the configuration'),
        hint: 'see the README for what each key takes',
        path,
        unknown,
      };
}
