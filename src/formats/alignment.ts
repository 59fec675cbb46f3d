import type { Alignment } from '../content/index.ts';
import { byName } from './by-name.ts';

/** Alignments by the names that formats share; left and right are the start and end that programs write them for. */
export const sharedAlignments: Readonly<Record<string, Alignment>> = byName({
  left: 'start',
  start: 'start',
  center: 'center',
  right: 'end',
  end: 'end',
  justify: 'justify',
});
