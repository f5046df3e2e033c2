/** Reads JSON that people may edit: comments are allowed, and what is wrong is told with its place. */
import type { Node, ParseError } from 'jsonc-parser';
import { type Place, Problem } from '../core/errors.js';

export interface ReadJson {
  value: unknown;
  tree: Node;
  /** the place of an offset into the text, in UTF-16 units */
  placeOf: (offset: number) => Place;
}

/**
 * @param path as the user is told it
 * @param what the file is, such as "the configuration"
 * @throws Problem with the place where it is no JSON
 */
export async function parseJson(path: string, source: string, what: string): Promise<ReadJson> {
  const [{ getNodeValue, parseTree, printParseErrorCode }, { placeAt }] = await Promise.all([
    import('jsonc-parser'),
    import('../core/page/parse.js'),
  ]);
  const placeOf = (offset: number) => placeAt({ path, source }, offset);
  const errors: ParseError[] = [];
  const tree = parseTree(source, errors, { allowTrailingComma: true });
  const [first] = errors;
  if (first !== undefined || tree === undefined)
    throw new Problem(`${what} is not JSON: ${first ? printParseErrorCode(first.error) : 'it is empty'}`, {
      place: placeOf(first?.offset ?? 0),
      hint: 'mend it here; comments and trailing commas are allowed',
    });
  return { value: getNodeValue(tree) as unknown, tree, placeOf };
}
