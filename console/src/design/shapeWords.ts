import type { Schemas } from '../api/client';
import type { Offer } from './words';

type Shape = Schemas['WordShape'];

/** A step down into a definition: a key or a name, or an item of a list. */
export type PathStep = string | typeof item;

/** An item of a list, whichever. */
export const item = Symbol('item');

interface Open {
  column: number;
  step: PathStep;
}

/** Where a line of its own begins something: each dash is an item, and then there may be a key. */
function stepsOf(line: string): { steps: Open[]; end: number } {
  const steps: Open[] = [];
  let at = /^ */.exec(line)?.[0].length ?? 0;
  for (let dash = /^- +/.exec(line.slice(at)); dash; dash = /^- +/.exec(line.slice(at))) {
    steps.push({ column: at, step: item });
    at += dash[0].length;
  }
  const key = /^["']?([^\s"'{}[\],#:][^"'{}[\],#:]*)["']?:(?= |$)/.exec(line.slice(at));
  if (key) {
    steps.push({ column: at, step: key[1] as string });
    at += key[0].length;
  }
  return { steps, end: at };
}

/** What is open at the end of a text in braces and brackets, as the rest of a line writes it. */
function flowOf(text: string): { steps: PathStep[]; isKey: boolean } {
  const open: { isMap: boolean; key?: string }[] = [];
  let word = '';
  let quote = '';
  for (const c of text) {
    if (quote) {
      if (c === quote) quote = '';
      else word += c;
    } else if (c === '"' || c === "'") quote = c;
    else if (c === '{' || c === '[') {
      open.push({ isMap: c === '{' });
      word = '';
    } else if (c === '}' || c === ']') {
      open.pop();
      word = '';
    } else if (c === ',') {
      const last = open.at(-1);
      if (last) last.key = undefined;
      word = '';
    } else if (c === ':' && open.at(-1)?.isMap && open.at(-1)?.key === undefined) {
      const last = open.at(-1);
      if (last) last.key = word.trim();
      word = '';
    } else word += c;
  }
  const last = open.at(-1);
  return {
    steps: open.flatMap((o): PathStep[] => (o.isMap ? (o.key === undefined ? [] : [o.key]) : [item])),
    isKey: last?.isMap === true && last.key === undefined,
  };
}

/**
 * Where a place of a definition is.
 * @param above The lines before it.
 * @param before What stands before it on its line.
 * @returns The way to it, and whether a key can begin there.
 */
export function placeAt(above: string, before: string): { path: PathStep[]; isKey: boolean } {
  const open: Open[] = [];
  const put = ({ steps }: { steps: Open[] }, column: number) => {
    // An item stands at the column of its list's key, or further in.
    while (open.length > 0 && (open.at(-1) as Open).column >= column) {
      const last = open.at(-1) as Open;
      if (last.column === column && steps[0]?.step === item && last.step !== item) break;
      open.pop();
    }
    open.push(...steps);
  };
  for (const line of above.split('\n')) {
    const found = /^\s*(?:#|$)/.test(line) ? undefined : stepsOf(line);
    if (found && found.steps.length > 0) put(found, (found.steps[0] as Open).column);
  }
  const own = stepsOf(before);
  const column = own.steps[0]?.column ?? before.length - before.trimStart().length;
  const isBlank = own.steps.every((s) => s.step === item) && before.slice(own.end).trim() === '';
  put(own, isBlank && own.steps.length === 0 ? before.length : column);
  const flow = flowOf(before.slice(own.end));
  return { path: [...open.map((o) => o.step), ...flow.steps], isKey: isBlank || flow.isKey };
}

/** What may stand at the end of a way; undefined where it leads nowhere. */
export function shapeAt(shape: Shape, path: PathStep[]): Shape | undefined {
  let now: Shape | null | undefined = shape;
  for (const step of path) {
    if (!now) return undefined;
    const key: Schemas['WordKey'] | undefined =
      step === item ? undefined : (now.keys as Schemas['WordKey'][]).find((k) => k.name === step);
    now = key ? key.shape : now.item;
  }
  return now ?? undefined;
}

/** What a key is for; undefined for what is none. */
export const shapeHelp = (shape: Shape, above: string, before: string, key: string): string | undefined =>
  shapeAt(shape, placeAt(above, before).path)?.keys.find((k) => k.name === key)?.doc;

/**
 * The words that can stand at a place of a definition.
 * @param names Names that the developer chose elsewhere, by the way to a place.
 */
export function shapeOffers(
  shape: Shape,
  above: string,
  before: string,
  names: (path: PathStep[], isKey: boolean) => Offer[],
): Offer[] {
  const { path, isKey } = placeAt(above, before);
  const at = shapeAt(shape, path);
  const own = names(path, isKey).map((o) => (isKey ? { ...o, label: `${o.label}: ` } : o));
  if (isKey) return [...(at?.keys ?? []).map((k) => ({ label: `${k.name}: `, detail: k.doc.split('. ')[0] })), ...own];
  return [...(at?.words ?? []).map((label) => ({ label })), ...own];
}
