import type { Value } from '../../../api/client';
import type { Tokens } from '../../../look/tokens';
import { label } from '../../../model/labels';
import { after, html, type Mark, type Parts, type Tips, tip } from '../drawing';
import type { Members } from './members';
import type { Placed, Series } from './series';

/** What is told of the members along an axis, to the eye and to the ear. */
export class Told {
  readonly #rows = new Map<string, (number | null)[]>();

  constructor(
    private readonly parts: Parts,
    private readonly along: Members,
    private readonly placed: Placed,
    private readonly tips: Tips,
  ) {}

  /** The tip of a place: all series at it. */
  tooltip(t: Tokens): object {
    return {
      trigger: 'axis',
      axisPointer: {
        type: this.placed.isBar ? 'shadow' : 'line',
        shadowStyle: { color: t.tint, opacity: 0.5 },
        lineStyle: { color: t.quiet },
      },
      formatter: (points: { dataIndex: number; seriesIndex: number }[]) => {
        const place = points[0]?.dataIndex ?? 0;
        const name = html(this.along.names[place] ?? '');
        const series = points.flatMap((p) => this.placed.shown[p.seriesIndex] ?? []);
        return (
          `<div style="margin-bottom:2px">${name}${this.along.isCut(place) ? ' (part of it)' : ''}</div>` +
          series.map((s, i) => this.#line(s, place, i === series.length - 1)).join('')
        );
      },
    };
  }

  /** The marks that can be picked: one for each member, all series together. */
  marks(): Mark[] {
    return this.along.members.map(({ member, isRest }, data) => {
      const words = () => this.#words(data);
      // Written when it is read: nobody reads it in the frames of a drag.
      return {
        member: [member],
        isRest,
        series: 0,
        data,
        get text() {
          return words();
        },
      };
    });
  }

  /** True if of a period that is whole only this series has no more than a part. */
  #isCutAlone = (s: Series, place: number) => this.along.isCut(place, s.part) && !this.along.isCut(place);

  /** A line of a tip. @param isLast True for the last series that is told of. */
  #line(s: Series, place: number, isLast: boolean): string {
    const { isSplit } = this.placed;
    const name = `${s.name}${isSplit && this.#isCutAlone(s, place) ? ' (part of it)' : ''}`;
    const figure = (s.real ?? s.values)[place];
    const row = this.#row(s, place);
    // Of several measures of one line of the result, what else is told of it stands once, at the end.
    const isWhole = isSplit || isLast;
    if (row === null || (!isWhole && !this.tips.isSentence)) return tip(s.colour, name, figure, s.column);
    return isWhole ? this.tips.of(row, s.colour, name, figure, s.column) : '';
  }

  #words(place: number): string {
    const { shown } = this.placed;
    const figures = shown.map((s) => {
      const figure = label((s.real ?? s.values)[place], s.column);
      const part = this.#isCutAlone(s, place) ? ', part of the period' : '';
      return shown.length > 1 ? `${s.name} ${figure}${part}` : figure;
    });
    const rows = this.tips.isMore ? [...new Set(shown.map((s) => this.#row(s, place)))] : [];
    const more = rows.map((row) => (row === null ? '' : this.tips.words(row))).filter(Boolean);
    const part = this.along.isCut(place) ? ', part of the period' : '';
    return `${this.along.names[place]}: ${figures.join(', ')}${part}${after(more.join('; '))}`;
  }

  /** The line of the result at a place of a series, or of all where they are measures. */
  #row({ part }: Series, place: number): number | null {
    const key = JSON.stringify(part ?? null);
    const rows = this.#rows.get(key) ?? this.#spreadRows(part);
    this.#rows.set(key, rows);
    return rows[place] ?? null;
  }

  #spreadRows = (part: Value | undefined) =>
    this.along.spread(
      Array.from({ length: this.parts.rows }, (_, row) => row),
      part,
    );
}
