/** What a project is configured with, and what holds where it says nothing. */
import { MAX_PAGE_SIZE } from '../core/component/expand.js';
import { DEFAULT_ELEMENTS, type ElementsOptions } from '../core/emit/elements/options.js';
import { DEFAULT_JSX, type JsxOptions } from '../core/emit/tsx/options.js';
import type { Arrangement, Layout } from '../core/library/arrange.js';
import { DEFAULT_THRESHOLDS, type Thresholds } from '../core/survey/types.js';
import type { Role } from '../core/words/vocabulary.js';

export interface Config {
  /** globs of pages, relative to the root */
  pages: string[];
  /** globs of what is left out */
  ignore: string[];
  /** globs of what the built site holds beside its pages and what they refer to */
  assets: string[];
  /** folder of the component files, relative to the root */
  components: string;
  /** folder of the data files that long lists are kept in */
  data: string;
  /** most characters that a list may take in a page; what is longer goes into a data file */
  inlineList: number;
  /** most UTF-16 units that a page may become when it is expanded */
  maxPageSize: number;
  survey: Thresholds;
  /** path of the component file that new ones are written after; null: a plain one */
  starter: string | null;
  /** selectors of what is left alone, and of what is a finding whatever it is worth */
  leave: string[];
  take: string[];
  /** what class words are there for, where the survey is wrong about them */
  words: Record<string, Role>;
  arrange: ArrangeConfig;
  emit: EmitConfig;
  pictures: PicturesConfig;
  preview: PreviewConfig;
}

export interface PreviewConfig {
  /** URL that opens a place in an editor, with `{path}`, `{line}` and `{column}` in it; '' for none */
  editor: string;
}

export interface PicturesConfig {
  /** widths of the window that pages are drawn in, in CSS pixels */
  widths: number[];
}

export interface ArrangeConfig extends Omit<Arrangement, 'layout'> {
  /** what `arrange` does where no layout is named; null: it asks for one */
  layout: Layout | null;
}

export interface EmitConfig extends Omit<JsxOptions, 'starter'>, ElementsOptions {
  /** path of the module that says how modules of its language are written; null: as they come */
  starter: string | null;
  /** folder, relative to the root, that holds a folder for each target */
  out: string;
  /** for targets of the user's own, as they are written */
  options: Record<string, unknown>;
}

/** Globs of what is taken for a page where nothing else is said. */
export const PAGES = ['**/*.html', '**/*.htm', '**/*.xhtml'];

/** What sites serve, whoever refers to it; what only tools read is not among it. */
const ASSETS = [
  '**/*.{apng,avif,bmp,cur,gif,ico,jpeg,jpg,png,svg,webp}',
  '**/*.{eot,otf,ttf,woff,woff2}',
  '**/*.css',
  '**/*.{js,mjs,wasm}',
  '!**/*.config.{js,mjs}',
  '!**/{gulpfile,gruntfile}.js',
  '**/*.{aac,flac,m4a,m4v,mov,mp3,mp4,oga,ogg,ogv,opus,vtt,wav,webm}',
  '**/*.{epub,pdf}',
  '**/{manifest.json,*.webmanifest,browserconfig.xml,opensearch.xml}',
  '**/{robots,humans,ads,security,llms}.txt',
  '**/{sitemap*,feed,rss,atom}.xml',
  '{CNAME,_headers,_redirects}',
  '.well-known/**',
];

export const DEFAULT_CONFIG: Config = {
  pages: PAGES,
  ignore: [],
  assets: ASSETS,
  components: 'components',
  data: 'data',
  inlineList: 2000,
  maxPageSize: MAX_PAGE_SIZE,
  survey: DEFAULT_THRESHOLDS,
  starter: null,
  leave: [],
  take: [],
  words: {},
  arrange: { layout: null, suffix: '', fileCase: 'kebab', patterns: {} },
  emit: { ...DEFAULT_JSX, ...DEFAULT_ELEMENTS, out: 'emitted', starter: null, options: {} },
  pictures: { widths: [1280, 400] },
  preview: { editor: '' },
};
