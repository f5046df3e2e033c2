/** Colour and width of the terminal; plain text and a fixed width where there is none. */
import picocolors from 'picocolors';

const { env, stdout } = process;
const colourful = !env.NO_COLOR && (env.FORCE_COLOR ? env.FORCE_COLOR !== '0' : stdout.isTTY && env.TERM !== 'dumb');

export const { bold, dim, green, red, yellow, cyan } = picocolors.createColors(colourful);

/** Columns to lay output out for; no limit where it goes into a file or another program. */
export function terminalWidth(): number {
  return stdout.isTTY ? Math.max(60, stdout.columns) : Infinity;
}

export function count(value: number, one: string, many = `${one}s`): string {
  return `${number(value)} ${value === 1 ? one : many}`;
}

/** A whole number with its thousands set apart; by hand, since loading what a locale needs takes 20 ms. */
export function number(value: number): string {
  return String(value).replace(/\B(?=(\d{3})+$)/g, ',');
}

/** A size in bytes, in the unit that reads best. */
export function size(bytes: number): string {
  return Math.abs(bytes) < 10_000 ? `${number(bytes)} B` : `${(bytes / 1000).toFixed(1)} kB`;
}
