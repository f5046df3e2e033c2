/** What lifting a finding saves, or adds, in words. */
import type { Finding } from '../core/survey/types.js';
import { count, size } from './style.js';

/** `saves 12 lines`, `adds 3 lines`. */
export function savedLinesText(lines: number): string {
  return `${verb(lines)} ${count(Math.abs(lines), 'line')}`;
}

/** `saves 12 lines, 1,340 B`, `adds 3 lines, saves 20 B`. */
export function savedText({ lines, bytes }: Finding['saved']): string {
  const again = verb(bytes) === verb(lines) ? '' : `${verb(bytes)} `;
  return `${savedLinesText(lines)}, ${again}${size(Math.abs(bytes))}`;
}

function verb(saved: number): string {
  return saved < 0 ? 'adds' : 'saves';
}
