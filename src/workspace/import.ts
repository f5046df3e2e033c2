/**
 * Imports what is not part of the bundled program: large packages, and modules whose names are known only when it runs.
 * The bundle takes this file from outside (`load.ts`), since its own script has no loader of modules.
 */

/** The module of that name or URL, of type `T`. */
export async function importModule<T>(name: string): Promise<T> {
  return (await import(name)) as T;
}
