import type { ColumnInfo, TileInfo, Value } from '../src/api/client';
import type { DrawingInput } from '../src/pictures/parts/drawing';

/** What a result of the sheet is like. */
export type Like = 'short' | 'long' | 'many' | 'few' | 'negative' | 'missing' | 'single';
export const likes: Like[] = ['short', 'long', 'many', 'few', 'negative', 'missing', 'single'];

const format = (unit: string, decimals = 0) => ({
  decimals,
  factor: 1,
  unit,
  marks: true,
  unitFirst: false,
  short: false,
});
const column = (name: string, role: string, kind: string, more: Partial<ColumnInfo> = {}): ColumnInfo =>
  ({ name, title: name, role, kind, format: null, at: null, ...more }) as ColumnInfo;

const short = ['north', 'east', 'south', 'west', 'mid'];
const long = [
  'Northern approaches and outer banks',
  'Eastern sound with its lesser isles',
  'Southern deeps beyond the lighthouse',
  'Western reach, winter timetable',
];

/** The members of a field. */
function members(like: Like): Value[] {
  if (like === 'long') return long;
  if (like === 'many') return Array.from({ length: 60 }, (_, i) => `member ${i + 1}`);
  if (like === 'few') return short.slice(0, 2);
  if (like === 'single') return short.slice(0, 1);
  return like === 'missing' ? [...short.slice(0, 3), null] : short;
}

const dayAt = (month: number, day: number): Value => new Date(Date.UTC(2024, month, day)).toISOString().slice(0, 10);
const days = (count: number): Value[] => Array.from({ length: count }, (_, i) => dayAt(i, 1));
/** As many as somebody looks at: each like has another of them as the last one that is written below an axis. */
const weeks: Record<Like, number> = { short: 12, long: 54, many: 158, few: 2, negative: 157, missing: 156, single: 1 };

/** The same figures each time: growing and falling, of one member far more than of the others. */
function figure(like: Like, place: number, of: number): number | null {
  if (like === 'missing' && place % 3 === 1) return null;
  const size = like === 'long' ? 123_456_789 : 1_000;
  const value = Math.round(size * (0.15 + ((place * 7 + of * 3) % 11) / 11)) * (place === 0 ? 3 : 1);
  return like === 'negative' && place % 2 === 1 ? -value : value;
}

interface Needs {
  groups: ('words' | 'months' | 'weeks' | 'ranges' | 'numbers')[];
  figures: number;
  /** Where figures have to be in an order, as those of a box. */
  ordered?: boolean;
  /** Single values beyond the figures, for each member. */
  outliers?: boolean;
  /** True if the last member is all others, of which there are more than of any. */
  rest?: boolean;
  /** What only a tip tells. */
  tip?: string;
  options?: Record<string, string>;
  tile?: Partial<TileInfo>;
}

/** What each kind of picture is drawn from. */
export const kinds: Record<string, Needs> = {
  bar: { groups: ['words'], figures: 1 },
  'bar, all others': { groups: ['words'], figures: 1, rest: true },
  'bar, stacked': { groups: ['words', 'words'], figures: 1 },
  'bar, upright': { groups: ['months'], figures: 1, options: { direction: 'upright' } },
  'bar, two axes': { groups: ['months'], figures: 2, options: { 'marks.b': 'line', 'axes.b': 'right' } },
  'bar, limits': {
    groups: ['words'],
    figures: 1,
    tile: {
      references: [
        { at: 500, to: null, title: 'worth a look', measure: null, isOfEach: false },
        { at: 520, to: null, title: 'to report', measure: null, isOfEach: false },
      ],
    },
  },
  line: { groups: ['months', 'words'], figures: 1 },
  'line, by week': { groups: ['weeks'], figures: 1 },
  area: { groups: ['months'], figures: 1 },
  waterfall: { groups: ['words'], figures: 1 },
  histogram: { groups: ['ranges'], figures: 1 },
  'histogram, laid over': { groups: ['ranges', 'words'], figures: 1, options: { parts: 'laid_over' } },
  density: { groups: ['numbers', 'words'], figures: 1, tip: 'bandwidth' },
  box: { groups: ['words'], figures: 5, ordered: true },
  'box, outliers': { groups: ['words'], figures: 5, ordered: true, outliers: true },
  'box, values': { groups: ['numbers'], figures: 1 },
  pie: { groups: ['words'], figures: 1 },
  'pie, ring': { groups: ['words'], figures: 1, options: { ring: 'true' } },
  treemap: { groups: ['words', 'words'], figures: 1 },
  sunburst: { groups: ['words', 'words'], figures: 1 },
  'sunburst, parents': { groups: ['words', 'words'], figures: 1, options: { parent: 'second' } },
  sankey: { groups: ['words', 'words'], figures: 1 },
  heatmap: { groups: ['words', 'months'], figures: 1, options: { values: 'shown' } },
  scatter: { groups: ['words'], figures: 3 },
  'scatter, shapes': { groups: ['words', 'words'], figures: 2, options: { shape: 'second' }, tile: { by: [{ name: 'first' }, { name: 'second' }] as TileInfo['by'] } },
  map: { groups: ['words'], figures: 1 },
  places: { groups: ['words'], figures: 4 },
};

/** The places of members among the series colours, as the service gives them. */
const placesOf = (members: Value[]) => ({ places: Object.fromEntries(members.map((m, i) => [String(m), i])) });

/** A result as a kind of picture needs it. */
export function resultOf(kind: string, like: Like): Pick<DrawingInput, 'tile' | 'table' | 'partial' | 'outliers' | 'weekStarts'> {
  const { groups, figures, ordered, outliers, rest, tip, options, tile } = kinds[kind] as Needs;
  const [picture] = kind.split(',');
  const edges = Array.from({ length: like === 'many' ? 41 : like === 'single' ? 2 : 9 }, (_, i) => i * (like === 'long' ? 250_000 : 5));
  const of = (g: Needs['groups'][number], at: number): Value[] =>
    g === 'ranges' || g === 'numbers'
      ? edges.slice(0, -1)
      : g === 'weeks'
        ? Array.from({ length: weeks[like] }, (_, i) => dayAt(-13, 18 + 7 * i))
      : g === 'months'
        ? days(like === 'many' ? 48 : like === 'single' ? 1 : like === 'few' ? 2 : 12)
        : at > 0
          ? members(like === 'many' ? 'short' : like).map((m) => (m === null ? m : `${m} ii`))
          : members(like);
  const [first, second] = [of(groups[0] ?? 'words', 0), groups[1] ? of(groups[1], 1) : [undefined]];
  const rows = first.flatMap((a, i) => second.map((b, j) => ({ a, b, place: i * second.length + j })));
  const unit = like === 'long' ? 'passengers' : 'min';
  const values = (at: number): Value[] =>
    picture === 'places' && at < 2
      ? rows.map((_, i) => (at === 0 ? 0.3 + ((i * 37) % 100) / 40 : 0.2 + ((i * 53) % 100) / 90))
      : rows.map(({ place }) => {
          const value = figure(like, place, at);
          if (rest && place === rows.length - 1 && value !== null) return 40 * Math.abs(value);
          return ordered && value !== null ? figure(like, place, 0) === null ? null : Number(figure(like, place, 0)) + at * 90 : value;
        });
  return {
    tile: {
      picture,
      title: 'A picture of the sheet',
      pick: 'many',
      show: [{ additive: true }],
      options: options ?? {},
      references: [],
      levels: [],
      ...tile,
    } as unknown as TileInfo,
    table: {
      columns: [
        column('first', 'group', groups[0] === 'words' ? 'text' : groups[0] === 'months' || groups[0] === 'weeks' ? 'date' : 'integer', {
          ...placesOf(first),
          ...(groups[0] === 'months' ? { at: 'month' } : groups[0] === 'weeks' ? { at: 'week' } : {}),
          ...(groups[0] === 'ranges' ? { edges } : {}),
          ...(groups[0] === 'ranges' || groups[0] === 'numbers' ? { format: format(unit) } : {}),
        }),
        ...(groups[1] ? [column('second', 'group', groups[1] === 'words' ? 'text' : 'date', { ...placesOf(second as Value[]), ...(groups[1] === 'months' ? { at: 'month' } : {}) })] : []),
        ...Array.from({ length: figures }, (_, i) =>
          column('abcde'[i] ?? 'f', 'figure', 'integer', { format: format(unit), title: like === 'long' ? `Passengers carried ${i}` : `Delay ${i}` }),
        ),
        ...(rest ? [column('rest', 'rest', 'boolean')] : []),
        ...(tip ? [column(tip, 'tip', 'float', { format: format(unit, 2) })] : []),
      ],
      values: [
        rows.map((r) => r.a),
        ...(groups[1] ? [rows.map((r) => r.b as Value)] : []),
        ...Array.from({ length: figures }, (_, i) => values(i)),
        ...(rest ? [rows.map((_, i) => i === rows.length - 1)] : []),
        ...(tip ? [rows.map(({ place }) => 1.5 + (place % 4))] : []),
      ],
    },
    outliers: outliers ? first.map((m, i) => ({ member: [m], value: Number(figure(like, i, 0) ?? 0) * 2, count: 1 + i })) : undefined,
    partial: [],
    weekStarts: 'monday',
  };
}
