import type { DashboardPage, ParameterState } from '../api/client';
import { same as sameText } from './same';

/** What a viewer has set: the values of each parameter as texts; those left out have their opening values. */
export type Settings = Record<string, string[]>;

/** The settings of an address; what can't be read is left out. */
export function readSettings(text: string | null): Settings {
  if (!text) return {};
  try {
    const read = JSON.parse(text) as unknown;
    if (typeof read !== 'object' || read === null || Array.isArray(read)) return {};
    return Object.fromEntries(
      Object.entries(read as Settings).filter(([, v]) => Array.isArray(v) && v.every((x) => typeof x === 'string')),
    );
  } catch {
    return {};
  }
}

/** The settings as they stand in the address; null if there are none. */
export function writeSettings(set: Settings): string | null {
  return Object.keys(set).length === 0 ? null : JSON.stringify(set);
}

/** Before the name of a tile, among what is set: how it is drawn for this visit. */
const drawn = 'draw:';

/** Of what is set that which has tiles drawn otherwise for this visit. */
export const drawingsIn = (set: Settings): Settings =>
  Object.fromEntries(Object.entries(set).filter(([name]) => name.startsWith(drawn)));

/** Of what is set that which is of parameters. */
export const withoutDrawings = (set: Settings): Settings =>
  Object.fromEntries(Object.entries(set).filter(([name]) => !name.startsWith(drawn)));

/** What is set with a tile drawn otherwise for this visit; undefined for as the view has it. */
export function drawingSet(set: Settings, tile: string, drawing: object | undefined): Settings {
  const { [`${drawn}${tile}`]: _, ...others } = set;
  return drawing === undefined ? others : { ...others, [`${drawn}${tile}`]: [JSON.stringify(drawing)] };
}

const same = (a: string[], b: string[]) => a.length === b.length && a.every((v, i) => v === b[i]);

/** Only parameters that are there, only choices that they have, and only where they differ from their opening values. */
export function knownSettings(set: Settings, parameters: ParameterState[]): Settings {
  const known = new Map(parameters.map((p) => [p.name, p]));
  return Object.fromEntries(
    Object.entries(set).filter(([name, values]) => {
      const parameter = known.get(name);
      const choices = parameter?.choices;
      const isOffered = !choices || values.every((v) => choices.some((c) => c.value === v));
      return parameter !== undefined && isOffered && !same(values, parameter.opening);
    }),
  );
}

/**
 * The settings that hold on a page: where they change how tiles are drawn those that the page was fetched with, which may be
 * a moment behind the address; all others as the address has them.
 */
export function effectiveSettings(set: Settings, parameters: ParameterState[], drawings: Settings = {}): Settings {
  const drawn = parameters.filter((p) => p.presents && !same(p.values, p.opening));
  return {
    ...drawings,
    ...knownSettings(
      set,
      parameters.filter((p) => !p.presents),
    ),
    ...Object.fromEntries(drawn.map((p) => [p.name, p.values])),
  };
}

/** Of the parameters in an address those that change how tiles are drawn, as the page is fetched with them. */
export const presentOf = (written: string | null, page: DashboardPage): string | null => {
  const set = readSettings(written);
  return writeSettings({
    ...knownSettings(
      set,
      page.parameters.filter((p) => p.presents),
    ),
    ...drawingsIn(set),
  });
};

/** Whether addresses carry the same parameters, in whichever order; how tiles are drawn is another matter. */
export const sameSettings = (a: string | null, b: string | null): boolean => {
  const of = (text: string | null) => Object.entries(withoutDrawings(readSettings(text))).sort();
  return sameText(of(a), of(b));
};

/** Why a text can't be the parameter's value; undefined if it can. The service checks again. */
export function faultOf(parameter: ParameterState, text: string): string | undefined {
  if (text === '') return parameter.optional ? undefined : 'A value is needed.';
  const { least, most } = parameter;
  if (parameter.type === 'integer' && !/^-?\d+$/.test(text)) return 'A whole number is needed.';
  if (parameter.type === 'decimal' || parameter.type === 'float' || parameter.type === 'integer') {
    const number = Number(text);
    if (!Number.isFinite(number)) return 'A number is needed.';
    if (least && number < Number(least)) return `At least ${least}.`;
    if (most && number > Number(most)) return `At most ${most}.`;
  } else if (parameter.type === 'period') {
    if (!isPeriod(text))
      return 'Write last 30 days, this quarter to date, previous month, all time, or 2025-03-01 to 2025-03-31.';
  } else if (parameter.type === 'date' || parameter.type === 'timestamp') {
    if (least && text < least) return `Not before ${least}.`;
    if (most && text > most) return `Not after ${most}.`;
  }
  return undefined;
}

/** Whether a text is a period as the service reads it: tests/period-cases.json holds both to the same. */
export function isPeriod(text: string): boolean {
  const words = text.trim().toLowerCase();
  if (['all time', 'today', 'yesterday'].includes(words)) return true;
  const last = /^last (\d{1,4}) (hour|day|week|month|quarter|year)s?$/.exec(words);
  if (last) return Number(last[1]) > 0 && Number(last[1]) <= 5000;
  if (/^this (day|week|month|quarter|year)( to date)?$|^previous (day|week|month|quarter|year)$/.test(words))
    return true;
  const fixed = /^(\d{4}-\d{2}-\d{2}) to (\d{4}-\d{2}-\d{2})$/.exec(words);
  const isDay = (day = '') =>
    !Number.isNaN(Date.parse(day)) && new Date(day).toISOString().startsWith(day) && day < '9990';
  return fixed !== null && isDay(fixed[1]) && isDay(fixed[2]) && (fixed[1] ?? '') <= (fixed[2] ?? '');
}

/** Periods that are offered; others can be typed. */
export const periods = [
  'all time',
  'last 7 days',
  'last 30 days',
  'last 12 months',
  'this month to date',
  'previous month',
  'this quarter to date',
  'this year to date',
  'previous year',
];
