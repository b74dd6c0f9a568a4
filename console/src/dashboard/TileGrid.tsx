import { ChevronDown, ChevronRight } from 'lucide-react';
import { type CSSProperties, lazy, Suspense } from 'react';
import type { Schemas, TabInfo, TileInfo } from '../api/client';
import { isFolded, sectionKey } from '../model/page/folds';
import { largeOf } from '../model/page/large';
import { pictureOf } from '../pictures';
import { TileFrame } from '../tiles/TileFrame';
import classes from './dashboard.module.css';
import { keepFolds } from './folds';
import { usePage, usePageStore } from './usePage';

const SectionColumns = lazy(() => import('../arrange/ColumnChoice').then((m) => ({ default: m.SectionColumns })));
const ArrangeGrid = lazy(() => import('../arrange/ArrangeGrid'));

/** The tiles of the open tab: those that stand in no section, and below them each section, which folds. */
export function TileGrid({ tab }: { tab: TabInfo }) {
  const tiles = usePage((s) => s.shown);
  const isLarge = usePage((s) => largeOf(s) !== undefined);
  const placed = tiles.filter((t) => !t.isInPanel);
  const within = (section: string | null) => placed.filter((t) => t.section === section);
  const isSectioned = tab.sections.length > 0;
  const isArranging = usePage((s) => s.isArranging);
  return (
    <div className={classes.sheet} data-large={isLarge} data-fit={isArranging ? 'content' : tab.fit}>
      {(!isSectioned || within(null).length > 0) && <Part tab={tab} tiles={within(null)} />}
      {tab.sections.map((s) => (
        <Section key={s.name} tab={tab} section={s} tiles={within(s.name)} />
      ))}
    </div>
  );
}

function Section({ tab, section, tiles }: { tab: TabInfo; section: Schemas['SectionInfo']; tiles: TileInfo[] }) {
  const store = usePageStore();
  const folded = usePage((s) => isFolded(s.folds, tab, section.name));
  const picked = usePage(
    (s) => tab.tiles.filter((t) => t.section === section.name && !t.hidden && s.selections[t.name]).length,
  );
  const name = sectionKey(tab.name, section.name);
  const id = `section-${name}`;
  const isArranging = usePage((s) => s.isArranging);
  const isEmpty = tab.tiles.every((t) => t.section !== section.name || t.hidden);
  if (isEmpty && !isArranging) return null;

  function fold() {
    store.dispatch({ type: 'fold', section: name, isFolded: !folded });
    const { page, folds } = store.getState();
    keepFolds(page.name, folds);
  }

  return (
    <section className={classes.section} aria-labelledby={id} data-section={section.name}>
      <h2 className={classes.sectionTitle}>
        <button type="button" id={id} aria-expanded={!folded} onClick={fold}>
          {folded ? <ChevronRight size={16} aria-hidden /> : <ChevronDown size={16} aria-hidden />}
          {section.title}
          {folded && picked > 0 && <span className="quiet">{picked} picked</span>}
        </button>
        {isArranging && section.may.includes('move') && !isEmpty && (
          <Suspense>
            <SectionColumns tab={tab} section={section} />
          </Suspense>
        )}
      </h2>
      {!folded && <Part tab={tab} tiles={tiles} section={section.name} />}
    </section>
  );
}

/** One grid of tiles; while arranging they are moved in it. */
function Part({ tab, tiles, section = null }: { tab: TabInfo; tiles: TileInfo[]; section?: string | null }) {
  const isArranging = usePage((s) => s.isArranging);
  if (isArranging)
    return (
      <Suspense>
        <ArrangeGrid tab={tab} section={section} />
      </Suspense>
    );
  return <Grid tab={tab} tiles={tiles} />;
}

/** Tiles at their places, with a line around those of a group. */
function Grid({ tab, tiles }: { tab: TabInfo; tiles: TileInfo[] }) {
  const large = usePage(largeOf);
  const { groups } = tab;
  return (
    <div className={classes.grid}>
      {groups.map((g) => (
        <Group key={g.name} title={g.title} tiles={tiles.filter((t) => t.group === g.name)} />
      ))}
      {[...tiles]
        .sort((a, b) => a.place.row - b.place.row || a.place.column - b.place.column)
        .map((t) => (
          <div
            key={t.name}
            className={classes.cell}
            data-large={large === t.name}
            data-kind={t.picture}
            data-room={pictureOf(t).room}
            style={
              {
                '--column': `${t.place.column + 1} / span ${t.place.width}`,
                '--row': `${t.place.row + 1} / span ${t.place.height}`,
                '--rows': t.place.height,
              } as CSSProperties
            }
          >
            <TileFrame tile={t} />
          </div>
        ))}
    </div>
  );
}

function Group({ title, tiles }: { title: string; tiles: TileInfo[] }) {
  const places = tiles.map((t) => t.place);
  if (places.length === 0) return null;
  const [left, top] = [Math.min(...places.map((p) => p.column)), Math.min(...places.map((p) => p.row))];
  const right = Math.max(...places.map((p) => p.column + p.width));
  const bottom = Math.max(...places.map((p) => p.row + p.height));
  const place = { '--column': `${left + 1} / ${right + 1}`, '--row': `${top + 1} / ${bottom + 1}` };
  return (
    <div className={classes.group} style={place as CSSProperties}>
      <span>{title}</span>
    </div>
  );
}
