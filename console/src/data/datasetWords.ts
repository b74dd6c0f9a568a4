import type { Schemas } from '../api/client';
import type { Offer } from '../design/words';
import type { FormulaWords } from './FormulaEditor';

type Key = Schemas['DefinitionKeyInfo'];

/** What a place of a dataset's text is in: the key at the margin that stands last above it. */
const sectionOf = (above: string, line: string): string =>
  /^([a-z_]+):/.exec(line)?.[1] ?? [...above.matchAll(/^([a-z_]+):/gm)].at(-1)?.[1] ?? '';

/** True within the keys of one field or measure: in its braces, or further in than its name. */
const isInside = (line: string): boolean => /\{[^{}]*$/.test(line) || /^ {3,}/.test(line);

function keysAt(above: string, line: string, keys: Schemas['DatasetKeysInfo']): Key[] {
  if (!/^\s/.test(line) && !line.includes('{')) return keys.dataset;
  const section = sectionOf(above, line);
  if (!isInside(line)) return [];
  return section === 'fields' ? keys.field : section === 'measures' ? keys.measure : [];
}

/** What a key is for; undefined for what is none. */
export const datasetHelp = (above: string, before: string, key: string, keys: Schemas['DatasetKeysInfo']) =>
  keysAt(above, before, keys).find((k) => k.name === key)?.doc;

/**
 * The words that can stand at a place of a dataset's text.
 * @param above The lines before it.
 * @param before What stands before it on its line.
 */
export function datasetOffers(
  above: string,
  before: string,
  keys: Schemas['DatasetKeysInfo'],
  { names, functions }: FormulaWords,
): Offer[] {
  // Within a formula: what measures take, or what fields do.
  if (/(?:^|[{,\s])(?:formula|filter|totals): *["']?[^"]*$/.test(before)) {
    const isMeasure = sectionOf(above, before) === 'measures';
    return [
      ...names.filter((n) => isMeasure || n.kind !== 'measure').map((n): Offer => ({ label: n.name, detail: n.title })),
      ...functions
        .filter((f) => isMeasure || !f.inMeasures)
        .map((f): Offer => ({ label: `${f.name}(`, detail: f.signature })),
    ];
  }
  const key = /([a-z_]+): *$/.exec(before)?.[1];
  const known = keysAt(above, before, keys);
  if (key) return known.find((k) => k.name === key)?.words.map((label) => ({ label })) ?? [];
  return /^\s*$|[{,]\s*$/.test(before)
    ? known.map((k) => ({ label: `${k.name}: `, detail: k.doc.split('. ')[0] }))
    : [];
}
