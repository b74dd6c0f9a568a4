import type { Schemas } from '../api/client';

/** The names that a definition can use. */
export interface Words {
  datasets: Schemas['DatasetInfo'][];
  pictures: { name: string; about: string }[];
  /** The keys of a tile, and what each is for. */
  keys: { name: string; doc: string }[];
}

/** A word that is offered, and what it means. */
export interface Offer {
  label: string;
  detail?: string;
}

/** The parts of a date that a field of one can be grouped by. */
const grains = ['year', 'quarter', 'month', 'week', 'day'];

/** Where the key of a line begins, from 0: behind its dash, if it has one. */
const columnOf = (line: string) => /^\s*(?:- +)?/.exec(line)?.[0].length ?? 0;

/** True if the keys of a line are those of a tile: the first line above that is further out begins the tiles of a tab. */
export function isInTile(above: string, line: string): boolean {
  const column = columnOf(line);
  const outer = above
    .split('\n')
    .reverse()
    .find((l) => l.trim() !== '' && !l.trim().startsWith('#') && columnOf(l) < column);
  return /^\s*(?:- )?tiles:/.test(outer ?? '');
}

/** What a key of a tile is for; undefined for what is none. */
export const helpFor = (above: string, line: string, key: string, { keys }: Words): string | undefined =>
  isInTile(above, line) ? keys.find((k) => k.name === key)?.doc : undefined;

/**
 * The words that can stand at a place of a dashboard's text.
 * @param above The lines before it.
 * @param before What stands before it on its line.
 */
export function wordsFor(above: string, before: string, { datasets, pictures, keys }: Words): Offer[] {
  if (/^\s*(?:- )?[a-z_]*$/.test(before))
    return isInTile(above, before) ? keys.map((k) => ({ label: `${k.name}: `, detail: k.doc.split('. ')[0] })) : [];
  // What tiles are sorted by may be a measure or a field.
  const key = /\bsort:/.test(before) ? 'sort' : /([a-z_]+):\s*[[{"']?[^:]*$/.exec(before)?.[1];
  if (key === 'picture') return pictures.map((p) => ({ label: p.name, detail: p.about }));
  if (key === 'dataset') return datasets.map((d) => ({ label: d.name, detail: d.title }));
  // Of the dataset that was named last: that of the tile, or of its neighbours.
  const named = [...above.matchAll(/^\s*(?:- )?.*\bdataset:\s*["']?([A-Za-z0-9_-]+)/gm)].at(-1)?.[1];
  const own = datasets.find((d) => d.name === named);
  if (!own) return [];
  const fields = own.fields.flatMap((f): Offer[] => [
    { label: f.name, detail: f.title },
    ...(f.kind === 'date' || f.kind === 'timestamp'
      ? grains.map((g) => ({ label: `${f.name}.${g}`, detail: `${f.title} by ${g}` }))
      : []),
  ]);
  const measures = own.measures.map((m): Offer => ({ label: m.name, detail: m.title }));
  if (key === 'show' || key === 'tip') return measures;
  if (key === 'by' || key === 'split' || key === 'across' || key === 'repeat' || key === 'shape') return fields;
  return key === 'sort' || key === 'of' ? [...measures, ...fields] : [];
}
