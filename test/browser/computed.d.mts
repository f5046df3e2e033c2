export function liftCopy(
  site: string,
  spoil?: (css: string) => string,
): { work: string; before: string; after: string; moved: number; staying: number };
export function compareSites(
  before: string,
  after: string,
  options?: { elements?: boolean; scripts?: boolean; only?: string },
): Promise<{ pages: number; styles: number; different: string[]; pictures: number; changed: string[] }>;
export function findChromium(): string;
