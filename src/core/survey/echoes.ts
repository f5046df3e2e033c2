/** Props whose values are another's in lower case or with hyphens: told, for a developer to derive or not. */
import { kebabCase } from 'change-case';
import { isText } from '../template/pattern.js';
import type { Finding } from './types.js';

export interface Echo {
  prop: string;
  of: string;
  form: 'lower case' | 'lower case with hyphens' | 'upper case';
}

const FORMS: [Echo['form'], (text: string) => string][] = [
  ['lower case', (text) => text.toLowerCase()],
  ['lower case with hyphens', (text) => kebabCase(text)],
  ['upper case', (text) => text.toUpperCase()],
];

/** Which props of a finding repeat another one's values in another form, at all places where they have one. */
export function echoesIn({ props }: Finding): Echo[] {
  const echoes: Echo[] = [];
  for (const prop of props)
    for (const other of props) {
      if (prop === other || !prop.values.some((value) => value !== null && isText(value))) continue;
      const pairs = prop.values.flatMap((value, i) => {
        const source = other.values[i] ?? null;
        return value !== null && isText(value)
          ? [[value.value, source !== null && isText(source) ? source.value : ''] as const]
          : [];
      });
      if (new Set(pairs.map(([value]) => value)).size < 2) continue;
      const found = FORMS.find(([, make]) =>
        pairs.every(([value, source]) => value !== source && make(source) === value),
      );
      if (found !== undefined) echoes.push({ prop: prop.name, of: other.name, form: found[0] });
    }
  return echoes;
}
