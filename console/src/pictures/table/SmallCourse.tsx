import type { ColumnInfo, Value } from '../../api/client';
import { label } from '../../model/labels';
import classes from './table.module.css';

export interface Course {
  as: string;
  figure: ColumnInfo;
  along: ColumnInfo;
  periods: Value[];
  lines: (number | null)[][];
  isCut: boolean;
}

/** What tells it from the others of a table. */
export const courseName = ({ figure, along, as }: Course) => `${figure.name} ${along.name} ${as}`;

export const courseTitle = ({ figure, along }: Course) => `${figure.title} by ${along.title.toLowerCase()}`;

const wide = 96;
const high = 20;

/** What a small picture says in words. */
export function inWords({ figure, along, periods }: Course, values: (number | null)[]): string {
  const known = values.flatMap((v, i) => (typeof v === 'number' ? [{ v, i }] : []));
  const [first, last] = [known[0], known[known.length - 1]];
  if (!first || !last) return 'no figures';
  const at = ({ v, i }: { v: number; i: number }) => `${label(v, figure)} in ${label(periods[i] ?? null, along)}`;
  if (first === last) return at(first);
  const least = known.reduce((a, b) => (b.v < a.v ? b : a));
  const most = known.reduce((a, b) => (b.v > a.v ? b : a));
  return `from ${at(first)} to ${at(last)}; least ${at(least)}, greatest ${at(most)}`;
}

/** The pieces of a line between gaps, as points; a piece of one point is drawn as a dot. */
export function piecesOf(values: (number | null)[], x: (i: number) => number, y: (v: number) => number): string[] {
  const pieces: string[][] = [[]];
  values.forEach((v, i) => {
    if (typeof v === 'number') pieces[pieces.length - 1]?.push(`${x(i).toFixed(1)},${y(v).toFixed(1)}`);
    else pieces.push([]);
  });
  return pieces.filter((p) => p.length > 0).map((p) => (p.length === 1 ? `${p[0]} ${p[0]}` : p.join(' ')));
}

/** A measure along a date, small, at a scale of its own: what is told is its course. */
export function SmallCourse({ course, values }: { course: Course; values: (number | null)[] }) {
  const known = values.filter((v): v is number => typeof v === 'number');
  if (known.length === 0) return <span className={classes.none}>–</span>;
  const isBars = course.as === 'bars';
  // Bars and areas begin at nothing; a line shows what changes.
  const ends = course.as === 'line' ? known : [...known, 0];
  const [least, most] = [Math.min(...ends), Math.max(...ends)];
  const step = wide / values.length;
  const x = (i: number) => (i + 0.5) * step;
  const y = (v: number) => (most === least ? high / 2 : high - 2 - ((v - least) * (high - 4)) / (most - least));
  const words = inWords(course, values);
  return (
    <svg className={classes.course} viewBox={`0 0 ${wide} ${high}`} role="img" aria-label={words}>
      <title>{words}</title>
      {isBars
        ? values.map((v, i) =>
            typeof v === 'number' ? (
              <rect
                key={String(course.periods[i])}
                x={i * step + step * 0.1}
                width={Math.max(0.8, step * 0.8)}
                y={Math.min(y(v), y(0))}
                height={Math.max(0.8, Math.abs(y(v) - y(0)))}
              />
            ) : null,
          )
        : piecesOf(values, x, y).map((points) => (
            <g key={points}>
              {course.as === 'area' && (
                <polygon
                  points={`${points.split(',')[0]},${y(0)} ${points} ${points.split(' ').at(-1)?.split(',')[0]},${y(0)}`}
                />
              )}
              <polyline points={points} />
            </g>
          ))}
    </svg>
  );
}
