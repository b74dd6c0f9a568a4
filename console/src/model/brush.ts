import type { Schemas, TileResult, Value } from '../api/client';
import { areYears, besideOf, nextPeriod } from './periods';
import { hasPick, instant, isWithin, liesIn, type Member, type Selection } from './selections';

export type BrushCube = Schemas['BrushCube'];

/** A cube made ready to be folded at the speed of the hand. */
export interface Prepared {
  cube: BrushCube;
  /** For each axis the member of each cell. */
  cells: Int32Array[];
  /** Values of each part: numbers with NaN for missing, or dates as they are. */
  parts: (Float64Array | (string | null)[])[];
  /** The driving tile's member of each cell, as one number. */
  driver: Int32Array;
  /** The follower's groups of each cell, as one number. */
  line: Int32Array;
  lines: number;
  driverOf: Map<string, number>;
  /** See {@link runningOf}; null if there are none, undefined until they are needed. */
  running?: Running | null;
}

/** For each part and line what the cells of the driving tile's first members add up to, one member more from row to row. */
interface Running {
  sums: Float64Array[];
  /** How many of those cells have a value. */
  known: Float64Array[];
}

/** What a follower shows under a selection on the driving tile. */
export interface Folded {
  table: NonNullable<TileResult['table']>;
  lines: number;
  totals: Value[] | null;
  partial: Value[];
  partialPairs: Value[][];
  /** Of the members picked on the tile itself those that have no rows now; null if there are none, or it shows all members. */
  absent: Value[][] | null;
}

/** More combinations of members than this are not held in arrays; the service is asked. */
const mostLines = 2_000_000;

/** More numbers than this are not kept for running sums; cells are added up one by one then. */
const mostRunning = 1_000_000;

/** A number as a whole one and a power of ten that divides it; a floating-point one has no scale. */
interface Exact {
  n: number;
  scale: number | null;
}

/** Makes a cube ready; undefined if it has too many combinations. */
export function prepare(cube: BrushCube): Prepared | undefined {
  const cells = cube.cells.map((c) => Int32Array.from(c as number[]));
  const size = (axes: { members: unknown[] }[]) => axes.reduce((n, a) => n * Math.max(1, a.members.length), 1);
  const [leadAxes, groupAxes] = [cube.axes.slice(0, cube.driverFields), cube.axes.slice(cube.driverFields)];
  if (size(leadAxes) > mostLines || size(groupAxes) > mostLines) return undefined;
  const count = cells[0]?.length ?? 0;
  const combine = (axes: { members: unknown[] }[], columns: Int32Array[]) => {
    const keys = new Int32Array(count);
    axes.forEach((axis, a) => {
      const column = columns[a] as Int32Array;
      for (let i = 0; i < count; i++) keys[i] = (keys[i] as number) * axis.members.length + (column[i] as number);
    });
    return keys;
  };
  const parts = cube.parts.map((p) =>
    p.values.some((v) => typeof v === 'string')
      ? (p.values as (string | null)[])
      : Float64Array.from(p.values as (number | null)[], (v) => (v === null ? Number.NaN : v)),
  );
  const driverOf = new Map<string, number>();
  const members = (axes: { members: unknown[] }[], at: number, path: unknown[], key: number): void => {
    const axis = axes[at];
    if (!axis) {
      driverOf.set(JSON.stringify(path), key);
      return;
    }
    axis.members.forEach((m, i) => {
      members(axes, at + 1, [...path, m], key * axis.members.length + i);
    });
  };
  members(leadAxes, 0, [], 0);
  return {
    cube,
    cells,
    parts,
    driver: combine(leadAxes, cells.slice(0, leadAxes.length)),
    line: combine(groupAxes, cells.slice(leadAxes.length)),
    lines: size(groupAxes),
    driverOf,
  };
}

/** Which of the driving tile's members a selection means; undefined if that can't be told exactly from the members. */
function mask(p: Prepared, selection: Selection | undefined): Uint8Array | undefined {
  const meant = new Uint8Array(p.driverOf.size);
  if (!selection || !hasPick(selection)) return meant.fill(1);
  if (selection.period !== undefined || selection.contains !== undefined) return undefined;
  const set = (member: Member, to: number) => {
    const at = p.driverOf.get(JSON.stringify(member));
    if (at !== undefined) meant[at] = to;
  };
  if (selection.restOf) {
    meant.fill(1);
    for (const m of selection.restOf) set(m, 0);
  }
  for (const m of selection.members) set(m, 1);
  if (selection.range) {
    const [axis, apart] = p.cube.axes;
    if (!axis || p.cube.driverFields > 2) return undefined;
    // Of a tile that is drawn for each member the range means, of each value along it, the members in whose pictures it lies.
    const beside =
      p.cube.driverFields === 2 && apart ? apart.members.map((m) => liesIn(selection, m as Value)) : [true];
    const mean = (i: number) => {
      for (const [j, isIn] of beside.entries()) if (isIn) meant[i * beside.length + j] = 1;
    };
    const { from, to } = selection.range;
    const [low, high] = [from === null ? '' : instant(String(from)), to === null ? '\uffff' : instant(String(to))];
    for (let i = 0; i < axis.members.length; i++) {
      const value = axis.members[i] as Value;
      if (value === null) continue;
      const span = axis.spans?.[i];
      if (!span) {
        if (typeof value !== 'number') return undefined;
        if (isWithin(selection.range, value)) mean(i);
        continue;
      }
      const [start, end] = span as [string, string | null];
      if (end === null) {
        if (start >= low && start < high) mean(i);
      } else if (start >= low && end <= high) mean(i);
      else if (end > low && start < high) return undefined; // a part of this period is meant
    }
  }
  if (selection.exclude) for (let i = 0; i < meant.length; i++) meant[i] = meant[i] ? 0 : 1;
  return meant;
}

/** The sums, least and greatest of parts over some keys of cells. */
class Sums {
  readonly columns: (Float64Array | (string | null)[])[];

  constructor(
    private readonly p: Prepared,
    size: number,
  ) {
    this.columns = p.parts.map((part, i) =>
      part instanceof Float64Array
        ? new Float64Array(size).fill(p.cube.parts[i]?.counts ? 0 : Number.NaN)
        : Array<string | null>(size).fill(null),
    );
  }

  /** Adds cells up: one part after another, so that the inner loop is over numbers alone. A key below 0 leaves a cell out. */
  add(keys: Int32Array): void {
    for (let i = 0; i < this.columns.length; i++) {
      const part = this.p.parts[i];
      const column = this.columns[i];
      const fold = this.p.cube.parts[i]?.fold;
      if (part instanceof Float64Array && column instanceof Float64Array) addNumbers(keys, part, column, fold);
      else if (Array.isArray(part) && Array.isArray(column))
        for (let cell = 0; cell < keys.length; cell++) {
          const key = keys[cell] as number;
          const v = part[cell] ?? null;
          if (key < 0 || v === null) continue;
          const before = column[key] ?? null;
          if (before === null || (fold === 'minimum' ? v < before : v > before)) column[key] = v;
        }
    }
  }

  /** What lies between two members, as the difference of running sums. */
  between({ sums, known }: Running, [from, to]: [number, number]): void {
    const { lines } = this.p;
    this.columns.forEach((column, i) => {
      const [sum, count] = [sums[i] as Float64Array, known[i] as Float64Array];
      for (let line = 0; line < lines; line++) {
        const [low, high] = [from * lines + line, to * lines + line];
        if ((count[high] as number) > (count[low] as number))
          (column as Float64Array)[line] = (sum[high] as number) - (sum[low] as number);
      }
    });
  }

  /** Adds up lines of others. A key below 0 leaves a line out. */
  take(from: Sums, keyOf: (line: number) => number): void {
    const lines: number[] = [];
    for (let line = 0; line < this.p.lines; line++) if (from.rows(line) > 0) lines.push(line);
    for (const line of lines) {
      const key = keyOf(line);
      if (key < 0) continue;
      this.columns.forEach((typed, i) => {
        const column = typed as (number | string | null)[];
        const fold = this.p.cube.parts[i]?.fold;
        const [v, before] = [from.columns[i]?.[line] ?? null, column[key] ?? null];
        if (v === null || Number.isNaN(v)) return;
        if (before === null || Number.isNaN(before)) column[key] = v;
        else if (fold === 'sum') column[key] = (before as number) + (v as number);
        else if (fold === 'minimum' ? v < before : v > before) column[key] = v;
      });
    }
  }

  /** How many rows there are; the last part counts them. */
  rows(key: number): number {
    return (this.columns[this.columns.length - 1] as Float64Array)[key] as number;
  }

  figure(figure: number, key: number): Value | undefined {
    const stack: (Exact | string | null)[] = [];
    for (const step of this.p.cube.figures[figure] ?? []) {
      const pushed = this.step(step, key, stack);
      if (pushed === undefined) return undefined;
      stack.push(pushed);
    }
    const result = stack.pop() ?? null;
    return result !== null && typeof result === 'object' ? double(result) : result;
  }

  private part(index: number, key: number): Exact | string | null {
    const column = this.columns[index];
    if (column instanceof Float64Array) {
      const n = column[key] as number;
      const scale = this.p.cube.parts[index]?.scale;
      return Number.isNaN(n) ? null : { n, scale: scale === null || scale === undefined ? null : Number(scale) };
    }
    return column?.[key] ?? null;
  }

  private step(
    step: Schemas['BrushStep'],
    key: number,
    stack: (Exact | string | null)[],
  ): Exact | string | null | undefined {
    const at = step.part;
    if (step.do === 'part') return this.part(at, key);
    if (step.do === 'value')
      return step.value === null || step.value === undefined ? null : exact(step.value as number);
    if (step.do === 'average') {
      const [sum, count] = [this.part(at, key), this.part(step.takes, key)];
      if (sum === null || count === null || typeof sum === 'string' || typeof count === 'string' || count.n === 0)
        return null;
      return { n: double(sum) / count.n, scale: null };
    }
    const values = stack.splice(stack.length - step.takes);
    if (step.do === 'coalesce') return values.find((v) => v !== null) ?? null;
    if (values.some((v) => v === null)) return null;
    const [a, b] = values as Exact[];
    if (!a || typeof a === 'string' || typeof b === 'string') return undefined;
    return arithmetic(step.do, step.kind, a, b);
  }
}

function addNumbers(keys: Int32Array, part: Float64Array, column: Float64Array, fold: string | undefined): void {
  for (let cell = 0; cell < keys.length; cell++) {
    const key = keys[cell] as number;
    const v = part[cell] as number;
    if (key < 0 || Number.isNaN(v)) continue;
    const before = column[key] as number;
    if (Number.isNaN(before)) column[key] = v;
    else if (fold === 'sum') column[key] = before + v;
    else if (fold === 'minimum' ? v < before : v > before) column[key] = v;
  }
}

/**
 * Running sums along the driving tile's members, from which any span of them is a difference. Only for whole and decimal
 * numbers: there it is exact, as the sum of all cells is.
 */
function runningOf(p: Prepared): Running | null {
  if (p.running !== undefined) return p.running;
  const rows = p.driverOf.size + 1;
  const isExact = p.cube.parts.every((part) => part.fold === 'sum' && part.scale !== null);
  if (!isExact || rows * p.lines * p.parts.length * 2 > mostRunning) {
    p.running = null;
    return null;
  }
  const made = p.parts.map((part) => {
    const [sum, count] = [new Float64Array(rows * p.lines), new Float64Array(rows * p.lines)];
    for (let cell = 0; cell < p.driver.length; cell++) {
      const v = part[cell] as number;
      if (Number.isNaN(v)) continue;
      const at = ((p.driver[cell] as number) + 1) * p.lines + (p.line[cell] as number);
      sum[at] = (sum[at] as number) + v;
      count[at] = (count[at] as number) + 1;
    }
    for (let at = p.lines; at < sum.length; at++) {
      sum[at] = (sum[at] as number) + (sum[at - p.lines] as number);
      count[at] = (count[at] as number) + (count[at - p.lines] as number);
    }
    return { sum, count };
  });
  p.running = { sums: made.map((m) => m.sum), known: made.map((m) => m.count) };
  return p.running;
}

/** From which member, included, to which, excluded, those that are meant lie; undefined if others lie between them. */
function spanOf(meant: Uint8Array): [number, number] | undefined {
  const from = meant.indexOf(1);
  if (from < 0) return [0, 0];
  const to = meant.lastIndexOf(1) + 1;
  return meant.subarray(from, to).includes(0) ? undefined : [from, to];
}

const exact = (value: number): Exact => {
  const digits = String(value);
  if (!Number.isFinite(value) || digits.includes('e')) return { n: value, scale: null };
  const scale = digits.includes('.') ? digits.length - digits.indexOf('.') - 1 : 0;
  return { n: Math.round(value * 10 ** scale), scale };
};

const double = (value: Exact): number => (value.scale === null ? value.n : value.n / 10 ** value.scale);

/** Exact for whole and decimal numbers; undefined where a page can't be exact. */
function arithmetic(what: string, kind: string, a: Exact, b?: Exact): Exact | null | undefined {
  if (what === 'negate') return { n: -a.n, scale: a.scale };
  if (!b) return undefined;
  if (what === 'divide') return double(b) === 0 ? null : { n: double(a) / double(b), scale: null };
  if (kind === 'float' || a.scale === null || b.scale === null) {
    const [x, y] = [double(a), double(b)];
    return { n: what === 'add' ? x + y : what === 'subtract' ? x - y : x * y, scale: null };
  }
  if (what === 'multiply') return safe({ n: a.n * b.n, scale: a.scale + b.scale });
  const scale = Math.max(a.scale, b.scale);
  const [x, y] = [a.n * 10 ** (scale - a.scale), b.n * 10 ** (scale - b.scale)];
  if (!Number.isSafeInteger(x) || !Number.isSafeInteger(y)) return undefined;
  return safe({ n: what === 'add' ? x + y : x - y, scale });
}

const safe = (value: Exact): Exact | undefined => (Number.isSafeInteger(value.n) ? value : undefined);

/**
 * The follower's answer under a selection on the driving tile, added up from the cells: the same lines in the same order as the
 * service would give. Undefined if it can't be told exactly; then the service is to be asked.
 */
export function fold(p: Prepared, selection: Selection | undefined, own?: Selection): Folded | undefined {
  const { cube } = p;
  const meant = mask(p, selection);
  if (!meant) return undefined;
  // Cells are looked at once; totals, ranks and the rest are added up from lines.
  const base = new Sums(p, p.lines);
  const span = spanOf(meant);
  const running = span && runningOf(p);
  if (running) base.between(running, span);
  else base.add(p.line.map((line, i) => (meant[p.driver[i] as number] ? line : -1)));
  const groupAxes = cube.axes.slice(cube.driverFields);
  const totals = cube.totals || groupAxes.length === 0 ? new Sums(p, 1) : undefined;
  const first = groupAxes[0]?.members.length ?? 1;
  const inner = p.lines / Math.max(1, first);

  // The leading members by the first figure over all their cells, ties by name.
  let leading: Uint8Array | undefined;
  let absent: Value[][] | null = null;
  if (cube.top) {
    const ranked = new Sums(p, first);
    ranked.take(base, (line) => Math.floor(line / inner));
    const members: { at: number; figure: number | null }[] = [];
    for (let at = 0; at < first; at++) {
      if (ranked.rows(at) === 0) continue;
      const figure = ranked.figure(0, at);
      if (figure === undefined) return undefined;
      members.push({ at, figure: figure as number | null });
    }
    const places = new Map(groupAxes[0]?.members.map((m, at) => [m as Value, at]));
    const gone = (own?.members ?? []).filter((m) => !hasRows(ranked, places.get(m[0] ?? null)));
    absent = gone.length > 0 ? gone : null;
    const ranks = cube.top.ranks as number[];
    members.sort((a, b) => nullsLast(a.figure, b.figure, true) || (ranks[a.at] as number) - (ranks[b.at] as number));
    leading = new Uint8Array(first);
    for (const m of members.slice(0, cube.top.count)) leading[m.at] = 1;
  }
  const hasRest = cube.top?.rest === true;
  // Lines of the rest stand behind all others, one for each combination of the other groups.
  const sums = leading ? new Sums(p, p.lines + (hasRest ? inner : 0)) : base;
  totals?.take(base, () => 0);
  if (leading) {
    const isLeading = leading;
    sums.take(base, (line) => (isLeading[Math.floor(line / inner)] ? line : hasRest ? p.lines + (line % inner) : -1));
  }
  const figuresOf = (from: Sums, key: number) => cube.figures.map((_, f) => from.figure(f, key));

  const lines: { isRest: boolean; at: number[]; figures: Value[] }[] = [];
  if (groupAxes.length === 0) {
    const figures = figuresOf(totals as Sums, 0);
    if (figures.includes(undefined)) return undefined;
    lines.push({ isRest: false, at: [], figures: figures as Value[] });
  } else
    for (let key = 0; key < p.lines + (hasRest ? inner : 0); key++) {
      if (sums.rows(key) === 0) continue;
      const figures = figuresOf(sums, key);
      if (figures.includes(undefined)) return undefined;
      const isRest = key >= p.lines;
      const at: number[] = [];
      let left = isRest ? key - p.lines : key;
      for (let g = groupAxes.length - 1; g >= 0; g--) {
        const size = groupAxes[g]?.members.length ?? 1;
        at[g] = g === 0 && isRest ? -1 : left % size;
        left = Math.floor(left / size);
      }
      lines.push({ isRest, at, figures: figures as Value[] });
    }
  const groups = groupAxes.length;
  const placeOf = placesByMember(p, base, inner);
  if (placeOf === undefined) return undefined;
  lines.sort((a, b) => {
    if (a.isRest !== b.isRest) return a.isRest ? 1 : -1;
    const between = a.isRest ? 0 : placeOf(a.at[0] as number, b.at[0] as number);
    if (between !== 0) return between;
    for (const { column, descending } of cube.order) {
      const c = Number(column);
      const axis = groupAxes[c];
      const place = (l: typeof a) => (axis?.members[l.at[c] as number] === null ? null : (l.at[c] as number));
      const figure = c - groups - (hasRest ? 1 : 0);
      const by =
        c < groups
          ? nullsLast(place(a), place(b), descending)
          : nullsLast(a.figures[figure] as number | null, b.figures[figure] as number | null, descending);
      if (by !== 0) return by;
    }
    return 0;
  });
  const shown = lines.slice(0, cube.limit);
  const values: Value[][] = [
    ...groupAxes.map((axis, g) =>
      shown.map((l) => (l.at[g] === -1 ? null : (axis.members[l.at[g] as number] as Value))),
    ),
    ...(hasRest ? [shown.map((l) => l.isRest as Value)] : []),
    ...cube.figures.map((_, f) => shown.map((l) => l.figures[f] ?? null)),
  ];
  const total = cube.totals ? figuresOf(totals as Sums, 0) : null;
  if (total?.includes(undefined)) return undefined;
  return {
    table: { columns: cube.columns, values } as Folded['table'],
    lines: lines.length,
    totals: total as Value[] | null,
    absent,
    ...partialOf(
      p,
      selection,
      shown.map((l) => l.at),
    ),
  };
}

const hasRows = (sums: Sums, at: number | undefined): boolean => at !== undefined && sums.rows(at) > 0;

/** Compares two members of the first group by the figure over all lines of each; undefined if that can't be told exactly. */
function placesByMember(p: Prepared, base: Sums, inner: number): ((a: number, b: number) => number) | undefined {
  const order = p.cube.byMember;
  if (!order) return () => 0;
  const size = p.cube.axes[p.cube.driverFields]?.members.length ?? 1;
  const sums = new Sums(p, size);
  sums.take(base, (line) => Math.floor(line / inner));
  const figures = Array.from({ length: size }, (_, at) => (sums.rows(at) === 0 ? null : sums.figure(order.figure, at)));
  if (figures.includes(undefined)) return undefined;
  return (a, b) => nullsLast(figures[a] as number | null, figures[b] as number | null, order.descending);
}

function nullsLast(a: number | string | null, b: number | string | null, descending: boolean): number {
  if (a === b) return 0;
  if (a === null) return 1;
  if (b === null) return -1;
  return (a < b ? -1 : 1) * (descending ? -1 : 1);
}

/** The periods that the data, or what is picked, do not cover whole: those of the first group, or of that together with the one that names a year. */
function partialOf(
  p: Prepared,
  selection: Selection | undefined,
  shown: number[][],
): Pick<Folded, 'partial' | 'partialPairs'> {
  const { cube } = p;
  const [axis, ...others] = cube.axes.slice(cube.driverFields);
  if (!cube.reach || !axis) return { partial: [], partialPairs: [] };
  let reach = cube.reach as [string, string][];
  // Of a tile that is drawn for each member only a range bounds periods.
  const isSpan = cube.driverFields === 1 || (selection?.range !== undefined && selection.members.length === 0);
  if (cube.driverIsSpan && isSpan && selection && hasPick(selection) && !selection.exclude && !selection.restOf) {
    const picked: [string, string][] = selection.members.flatMap(([m]) => {
      if (typeof m !== 'string') return [];
      const end = nextPeriod(m, cube.axes[0]?.at ?? 'day');
      return end ? [[instant(m), instant(end)] as [string, string]] : [];
    });
    if (selection.range)
      picked.push([
        selection.range.from === null ? '' : instant(String(selection.range.from)),
        selection.range.to === null ? '\uffff' : instant(String(selection.range.to)),
      ]);
    const spans = merged(picked);
    if (spans.length > 0)
      reach = reach.flatMap(([from, to]) =>
        spans.flatMap(([low, high]): [string, string][] => {
          const [start, end] = [later(low, from), later(high, to) === high ? to : high];
          return start < end ? [[start, end]] : [];
        }),
      );
  }
  const isCut = (start: string, end: string) => !reach.some(([from, to]) => start >= from && end <= to);
  if (cube.pairsAre) {
    const beside = Math.max(
      0,
      besideOf(
        axis.at,
        others.map((o) => o.at),
      ),
    );
    const other = others[beside];
    const pairs = new Map(
      shown.map((at) => {
        const pair = [axis.members[at[0] as number] ?? null, other?.members[at[beside + 1] as number] ?? null];
        return [JSON.stringify(pair), pair] as [string, Value[]];
      }),
    );
    const cut = [...pairs.values()].filter((pair) => {
      const span = pairSpan(pair, axis.at ?? '', cube.pairsAre as string);
      return span !== undefined && isCut(...span);
    });
    return { partial: [], partialPairs: cut };
  }
  const partial = [...new Set(shown.map((at) => at[0] ?? -1))].flatMap((at) => {
    const span = axis.spans?.[at];
    const [start, end] = [span?.[0], span?.[1]];
    return start && end && isCut(start, end) ? [axis.members[at] as Value] : [];
  });
  return { partial, partialPairs: [] };
}

/** From when to when the period lasts that a part of the year and a year name together, in either order. */
function pairSpan([a, b]: Value[], firstAt: string, grain: string): [string, string] | undefined {
  const [part, year] = areYears(firstAt) ? [b, a] : [a, b];
  const y = typeof year === 'string' ? Number(year.slice(0, 4)) : year;
  if (typeof part !== 'number' || typeof y !== 'number') return undefined;
  const month = grain === 'month' ? part : part * 3 - 2;
  const start = `${String(y).padStart(4, '0')}-${String(month).padStart(2, '0')}-01`;
  const end = nextPeriod(start, grain);
  return end ? [instant(start), instant(end)] : undefined;
}

/** The later of two instants, which sort as texts. */
const later = (a: string, b: string): string => [a, b].sort()[1] as string;

/** Spans in order, those that touch or overlap as one. */
function merged(spans: [string, string][]): [string, string][] {
  const all: [string, string][] = [];
  for (const [from, to] of [...spans].sort((a, b) => (a[0] < b[0] ? -1 : 1))) {
    const last = all[all.length - 1];
    if (last && from <= last[1]) last[1] = later(to, last[1]);
    else all.push([from, to]);
  }
  return all;
}
