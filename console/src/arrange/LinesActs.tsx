import { Button } from '@mantine/core';
import type { TileInfo } from '../api/client';
import { useDispatch, usePage } from '../dashboard/usePage';
import { areAlike, linesInWords, linesOf, withLines } from '../model/lines';
import { linesOtherwise, tableIn } from '../model/page/tables';

/** How the lines of a table are sorted and filtered, and the ways on: keep it, back to the view, back to how it was defined. */
export function LinesActs({ tile, onDone }: { tile: TileInfo; onDone?: () => void }) {
  const dispatch = useDispatch();
  const table = usePage((s) => tableIn(s, tile));
  const visit = usePage((s) => s.lines[tile.name]);
  const otherwise = usePage((s) => linesOtherwise(s, tile));
  const mayArrange = usePage((s) => s.page.mayArrange);
  const columns = usePage((s) => s.tiles[tile.name]?.result?.table?.columns);
  if (otherwise === null) return null;
  const mayKeep = mayArrange && tile.may.includes('move');
  const [ofView, published] = [linesOf(table), linesOf(tile.publishedTable)];
  const lines = { ...ofView, ...visit };
  const said = linesInWords(lines, (name) => columns?.find((c) => c.name === name)?.title ?? name);

  const done = (act: () => void) => () => {
    act();
    onDone?.();
  };
  const ofVisit = (next?: typeof visit) => dispatch({ type: 'lines', tile: tile.name, lines: next });
  const ofMine = (next: typeof lines) => {
    dispatch({ type: 'columns', tile: tile.name, table: withLines(table, next) });
    ofVisit();
  };
  return (
    <>
      <p role="status">
        {said ? `Its lines are ${said}` : 'Its lines stand as they come'}{' '}
        {otherwise === 'visit' ? 'for this visit.' : 'in your view.'}
      </p>
      {otherwise === 'visit' && mayKeep && (
        <Button size="compact-sm" onClick={done(() => ofMine(lines))}>
          Keep in my view
        </Button>
      )}
      {otherwise === 'visit' && !areAlike(ofView, published) && (
        <Button size="compact-sm" variant="default" onClick={done(() => ofVisit())}>
          Back to how my view has it
        </Button>
      )}
      <Button
        size="compact-sm"
        variant="default"
        onClick={done(() => {
          // What the view has is taken back in it; where that may not be changed, for the visit.
          if (areAlike(ofView, published)) ofVisit();
          else if (mayKeep) ofMine(published);
          else ofVisit(published);
        })}
      >
        As it was defined
      </Button>
    </>
  );
}
