/** Formats emitted files with Prettier and the configuration that holds where they go. */
import { join } from 'node:path';
import { Problem } from '../core/errors.js';
import { importModule } from './import.js';

const FORMATTED = /\.(tsx?|jsx?|mjs|cjs|css|json)$/;

/** @throws Problem when a text cannot be read */
export async function formatted(folder: string, path: string, text: string): Promise<string> {
  if (!FORMATTED.test(path)) return text;
  const { format, resolveConfig } = await importModule<typeof import('prettier')>('prettier');
  const filepath = join(folder, path);
  try {
    const config = await resolveConfig(filepath, { editorconfig: true });
    return await format(text, { ...config, filepath });
  } catch (error) {
    throw new Problem(`${path} cannot be formatted: ${(error as Error).message.split('\n')[0]!}`, {
      hint: 'a configuration of Prettier that stands above the output folder may be wrong',
    });
  }
}
