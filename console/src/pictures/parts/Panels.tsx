import { Button } from '@mantine/core';
import { type ComponentType, useContext, useMemo, useState } from 'react';
import type { Value } from '../../api/client';
import { useTokens } from '../../look/look';
import { useSize } from '../../look/useSize';
import { label } from '../../model/labels';
import { isLens } from '../../model/lens';
import { areYears } from '../../model/periods';
import { hasPick, type Selection, toggleAll } from '../../model/selections';
import type { PictureProps } from '../PictureProps';
import { Still } from '../surroundings';
import type { Draw, DrawingInput, Drawn, Overview } from './drawing';
import { Legend } from './Legend';
import classes from './panels.module.css';
import { type Panel, panelsOf } from './panelsOf';
import { commonScale, endsOfFigures, withOutliers } from './scale';
import { WindowStrip } from './WindowStrip';

type Table = DrawingInput['table'];

/** So many are drawn before one is asked whether all are wanted. */
const first = 12;

/** The least room in which one can be read: in pixels, and in sizes of type. */
const least = { width: 150, height: 7 };

type Props = PictureProps & Drawn & { Chart: ComponentType<PictureProps & Drawn> };

/** The same picture for each member of the last field that the tile is grouped by, in reading order. */
export default function Panels(props: Props) {
  const { tile, hidden, onHide, window, onWindow } = props;
  const tokens = useTokens();
  const { ref, width, height } = useSize<HTMLDivElement>();
  const still = useContext(Still);
  const [isAll, setAll] = useState(still === 'grow');
  const [own, setOwn] = useState<readonly string[]>([]);
  const names = hidden ?? own;
  const { panels, entries, overview, inEach } = usePanels(props);
  const shown = isAll ? panels : panels.slice(0, first);
  const columns = columnsIn(width, height, shown.length);
  const lowest = (props.lowest ?? least.height) * tokens.size;
  const room = Math.max(lowest, Math.floor(height / Math.ceil(shown.length / columns)) - 4);

  return (
    <>
      {entries.length > 0 && (
        <Legend
          title={tile.title}
          entries={entries}
          hidden={new Set(names)}
          onChange={(next) => (onHide ?? setOwn)([...next])}
          width={width}
          height={height}
          size={tokens.size}
        />
      )}
      <div
        ref={ref}
        className={classes.panels}
        data-panels
        style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}
      >
        {width > 0 &&
          shown.map((panel) => (
            <Each
              key={JSON.stringify(panel.member)}
              {...props}
              {...inEach(panel)}
              of={panel}
              hidden={names}
              room={room}
            />
          ))}
      </div>
      {overview && onWindow && (window || tile.options.window) && (
        <WindowStrip
          title={tile.title}
          overview={overview}
          opening={tile.options.window ? Number(tile.options.window) : undefined}
          onChange={onWindow}
        />
      )}
      {shown.length < panels.length && still && (
        <p>
          The first {shown.length} of {panels.length}.
        </p>
      )}
      {shown.length < panels.length && !still && (
        <Button size="compact-xs" variant="subtle" onClick={() => setAll(true)}>
          Show all {panels.length}
        </Button>
      )}
    </>
  );
}

/** The picture of one member, below its name. @param room How high it is, in pixels. */
function Each({ Chart, of, room, ...props }: Props & { of: Panel; room: number }) {
  const { tile, selection, onSelect } = props;
  const name = label(of.member, of.column);
  const pickAll = () => onSelect(toggleAll(selection, membersOf(of.table, tile.by.length, of.member)));
  return (
    <section aria-label={`${of.column.title}: ${name}`} style={{ height: room }}>
      <h3>
        {tile.pick === 'many' ? (
          <button type="button" title={`Pick all of ${name}`} onClick={pickAll}>
            {name}
          </button>
        ) : (
          name
        )}
      </h3>
      <Chart {...props} />
    </section>
  );
}

/** The part of a result that is of each member, what is the same in all pictures, and what each of them is given to draw. */
function usePanels({ tile, result, draw, window, stacks, weekStarts, ...given }: Props) {
  const tokens = useTokens();
  const whole = useMemo(() => panelsOf(result.table, tile.by.length - 1), [result.table, tile.by.length]);
  const each = useMemo(() => ({ ...tile, repeats: false, by: tile.by.slice(0, -1) }), [tile]);
  // The series and the axis of all of them: one drawing tells, whatever figures then stand in it.
  const { entries, overview } = useMemo(() => {
    const input = { ...result, partial: [], weekStarts, tokens, width: 300, height: 200 };
    const [first] = whole;
    if (!first) return { entries: [], overview: undefined };
    const apart = result.table.columns.indexOf(first.column);
    const values = result.table.values.filter((_, c) => c !== apart);
    const part = window && !isLens(window) ? window : undefined;
    const drawn = draw({ ...input, tile: each, table: { ...first.table, values }, window: part });
    return { entries: drawn.legend ?? [], overview: drawn.overview };
  }, [whole, draw, each, result, weekStarts, tokens, window]);
  const panels = useMemo(() => (overview ? whole.map((p) => inPart(p, overview)) : whole), [whole, overview]);
  const isOwn = tile.options.scales === 'own';
  const scale = useMemo(() => {
    if (given.scale || isOwn) return given.scale;
    return withOutliers(commonScale(each, stacks ?? false, ...panels.map((p) => p.table)), result);
  }, [given.scale, each, isOwn, panels, stacks, result]);
  const ends = useMemo(
    () => given.ends ?? (isOwn ? undefined : endsOfFigures(...panels.map((p) => p.table))),
    [given.ends, isOwn, panels],
  );
  // What is the same for the whole of a picture, and stays so while only figures change.
  const lasting = useMemo(
    () =>
      new Map(
        panels.map(({ member, column }) => [
          JSON.stringify(member),
          {
            // What a tip says of the member is the same for the whole of its picture.
            tile: each.tip ? { ...each, tip: each.tip.replaceAll(`{${column.name}}`, label(member, column)) } : each,
            draw: drawnFor(draw, member),
            panel: [member] as [Value],
          },
        ]),
      ),
    [panels, each, draw],
  );
  const results = useMemo(
    () => new Map(panels.map((p) => [JSON.stringify(p.member), resultOf(result, p)])),
    [panels, result],
  );
  const inEach = ({ member }: Panel) => {
    const key = JSON.stringify(member);
    return {
      ...(lasting.get(key) ?? { tile: each, draw }),
      result: results.get(key) ?? result,
      scale,
      ends,
      overview,
    };
  };
  return { panels, entries, overview, inEach };
}

/** What of a result is of one member. */
function resultOf(result: PictureProps['result'], { member, column, table }: Panel): PictureProps['result'] {
  const key = JSON.stringify(member);
  // A line that is of each picture's own rows stands where its member has it.
  const own = result.referencesOfEach?.find((r) => JSON.stringify(r.member) === key);
  return {
    ...result,
    table,
    references: own ? own.at.map((at, i) => at ?? result.references?.[i] ?? null) : result.references,
    outliers: result.outliers
      ?.filter((o) => o.member.at(-1) === member)
      .map((o) => ({ ...o, member: o.member.slice(0, -1) })),
    // Members of a column that names a period together with a part of the year, and not those of a split.
    ...(areYears(column.at)
      ? { partial: [...(result.partial ?? []), ...pairsOf(result.partialPairs, member)], partialPairs: [] }
      : {}),
  };
}

/** What of a panel lies in the part of the axis of all of them that is shown. */
export function inPart(panel: Panel, { members, shown: [from, to] }: Pick<Overview, 'members' | 'shown'>): Panel {
  if (from === 0 && to === members.length - 1) return panel;
  const part = new Set(members.slice(from, to + 1).map((m) => JSON.stringify(m)));
  const { table } = panel;
  const along = table.columns.findIndex((c) => c.role === 'group');
  const rows = (table.values[along] ?? []).flatMap((v, row) => (part.has(JSON.stringify(v)) ? [row] : []));
  return {
    ...panel,
    table: { ...table, values: table.values.map((values) => rows.map((row) => values[row] as Value)) },
  };
}

/** How a picture is drawn for one member: what is picked on the others makes all of it faint, and its marks are of that member. */
export function drawnFor(draw: Draw, panel: Value): Draw {
  return (input) => {
    const drawing = draw({ ...input, selection: within(input.selection, panel) });
    return { ...drawing, marks: drawing.marks.map((m) => ({ ...m, member: [...m.member, panel] })) };
  };
}

/** A value that no member has. */
const nobody = '\u0000';

/** Of what is picked, what is of one panel. */
function within(selection: Selection | undefined, panel: Value): Selection | undefined {
  if (!selection || !hasPick(selection)) return selection;
  const here = selection.members.filter((m) => m.at(-1) === panel).map((m) => m.slice(0, -1));
  return { ...selection, members: here.length > 0 || selection.exclude ? here : [[nobody]] };
}

/** All that one panel shows, as members of the tile. */
const membersOf = (table: Table, groups: number, panel: Value) => [
  ...new Map(
    (table.values[0] ?? []).map((_, row) => {
      const member = [...Array.from({ length: groups }, (_, g) => (table.values[g]?.[row] ?? null) as Value), panel];
      return [JSON.stringify(member), member] as const;
    }),
  ).values(),
];

/** Periods that are not whole in one panel, as members of it. */
const pairsOf = (pairs: Value[][] | undefined, panel: Value) =>
  (pairs ?? []).filter(([, of]) => of === panel).map(([m]) => m ?? null);

/** Into how many columns pictures go, so that each has the most room. */
export function columnsIn(width: number, height: number, count: number): number {
  let best = { columns: 1, size: 0 };
  for (let columns = 1; columns <= Math.max(1, count); columns++) {
    const [w, h] = [width / columns, height / Math.ceil(count / columns)];
    if (columns > 1 && w < least.width) break;
    const size = Math.min(w / 1.5, h);
    if (size > best.size) best = { columns, size };
  }
  return best.columns;
}
