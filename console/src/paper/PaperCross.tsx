import { useMemo } from 'react';
import type { Value } from '../api/client';
import { useTokens } from '../look/look';
import { bareNumber, formatOf, label } from '../model/labels';
import { linesOf } from '../model/lines';
import { type Cross, crossOf, rowKey, seen, sortKept } from '../pictures/crosstable/cross';
import type { PictureProps } from '../pictures/PictureProps';
import { CellLegend } from '../pictures/parts/CellLegend';
import { arrowOf, cellsOf } from '../pictures/parts/cells';
import classes from './paper.module.css';
import { blocksOf } from './paperData';

/** How wide the names of lines are, and a column of figures, in pixels. */
const [wideOfNames, wideOfFigure] = [200, 76];

const nothingFolded: ReadonlySet<string> = new Set();

interface Room {
  /** In pixels. */
  width: number;
  /** So many lines have room, and nothing goes on below; left out where all has room. */
  most?: number;
}

/** A cross table with all its groups unfolded. Members across that have no room beside one another go on below. */
export function PaperCross({ tile, result, ...room }: Pick<PictureProps, 'tile' | 'result'> & Room) {
  const cross = useMemo(() => crossOf(result.table, result.subtotals ?? []), [result]);
  return cross ? <Shown tile={tile} cross={cross} {...room} /> : null;
}

function Shown({ tile, cross, width, most }: { tile: PictureProps['tile']; cross: Cross } & Room) {
  const t = useTokens();
  const rows = useMemo(
    () => seen(cross, sortKept(linesOf(tile.table).sorted[0], cross), nothingFolded),
    [cross, tile.table],
  );
  const drawn = useMemo(() => {
    const every = rows.filter((r) => r.children.length === 0);
    return cross.figures.map((f, i) =>
      cellsOf(
        tile,
        f,
        every.flatMap((r) => cross.columns.map((c) => cross.cell(r.path, c.member)?.[i] ?? null)),
        t,
      ),
    );
  }, [cross, tile, rows, t]);
  const members: Block = [...cross.columns.map((c) => c.member), undefined];
  const all = blocksOf(members, Math.floor((width - wideOfNames) / (wideOfFigure * cross.figures.length)));
  const blocks = most === undefined ? all : all.slice(0, 1);
  const shown = rows.slice(0, most);
  const left = [
    shown.length < rows.length && `${shown.length} of ${rows.length} lines`,
    blocks.length < all.length && `${blocks[0]?.length} of ${members.length} columns`,
  ].filter(Boolean);
  return (
    <>
      {cross.figures.length === 1 && cross.figures[0] && (
        <p className={classes.filters}>{headingOf(cross.figures[0])}</p>
      )}
      {left.length > 0 && <p className={classes.filters}>The first {left.join(' and ')} that it has.</p>}
      {blocks.map((block) => (
        <table key={nameOf(block[0], cross)} className={`${classes.table} ${classes.cross}`}>
          <Head cross={cross} block={block} />
          <tbody>
            {shown.map((row) => (
              <Line key={rowKey(row)} row={row} tile={tile} cross={cross} block={block} drawn={drawn} />
            ))}
            <tr className={classes.total}>
              <th scope="row">Total</th>
              {block.flatMap((member) => {
                const figures =
                  member === undefined ? cross.total : cross.columns.find((c) => c.member === member)?.totals;
                return cross.figures.map((figure, i) => (
                  <td key={`${nameOf(member, cross)} ${figure.name}`} data-figure>
                    {bareNumber(figures?.[i] ?? null, figure)}
                  </td>
                ));
              })}
            </tr>
          </tbody>
        </table>
      ))}
      <CellLegend columns={cross.figures} looks={drawn} />
    </>
  );
}

/** Some of the members across, side by side; undefined stands for all of them together. */
type Block = (Value | undefined)[];

const nameOf = (member: Value | undefined, cross: Cross) =>
  member === undefined ? 'All' : label(member, cross.across);

function headingOf(figure: Cross['figures'][number]) {
  const { unit } = formatOf(figure);
  return unit ? `${figure.title}, ${unit}` : figure.title;
}

/** The members of a block, and below them the figures where there are several. */
function Head({ cross, block }: { cross: Cross; block: Block }) {
  const several = cross.figures.length > 1;
  return (
    <thead>
      {several && (
        <tr>
          <th scope="col">{cross.across.title}</th>
          {block.map((member) => (
            <th key={nameOf(member, cross)} scope="colgroup" colSpan={cross.figures.length}>
              {nameOf(member, cross)}
            </th>
          ))}
        </tr>
      )}
      <tr>
        <th scope="col">{cross.down.map((d) => d.title).join(' › ')}</th>
        {block.flatMap((member) =>
          cross.figures.map((figure) => (
            <th key={`${nameOf(member, cross)} ${figure.name}`} scope="col" data-figure>
              {several ? headingOf(figure) : nameOf(member, cross)}
            </th>
          )),
        )}
      </tr>
    </thead>
  );
}

/** A line of a block: a member, or a group with its own totals. */
function Line({
  row,
  tile,
  cross,
  block,
  drawn,
}: {
  row: ReturnType<typeof seen>[number];
  tile: PictureProps['tile'];
  cross: Cross;
  block: Block;
  drawn: ReturnType<typeof cellsOf>[];
}) {
  const depth = row.path.length - 1;
  const isGroup = row.children.length > 0;
  return (
    <tr className={isGroup ? classes.group : undefined}>
      <th scope="row" className={isGroup ? undefined : classes.member} style={{ paddingLeft: 8 + depth * 14 }}>
        {label(row.path[depth] ?? null, cross.down[depth] as Cross['down'][number])}
      </th>
      {block.flatMap((member) => {
        const figures = member === undefined ? row.totals : cross.cell(row.path, member);
        return cross.figures.map((figure, i) => {
          const value = figures?.[i] ?? null;
          return (
            <td
              key={`${nameOf(member, cross)} ${figure.name}`}
              data-figure
              style={member !== undefined && !isGroup ? drawn[i]?.style(value) : undefined}
            >
              {arrowOf(tile.options?.[`cells.${figure.name}`], value)}
              {figures ? bareNumber(value, figure) : ''}
            </td>
          );
        });
      })}
    </tr>
  );
}
