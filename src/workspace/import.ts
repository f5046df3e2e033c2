/**
 * Imports modules whose names are known only when the program runs. The bundles take this file from outside (`load.ts`), since
 * their own scripts have no loader of modules.
 */

/** The module of that name or URL, of type `T`. */
export async function importModule<T>(name: string): Promise<T> {
  return (await import(name)) as T;
}
