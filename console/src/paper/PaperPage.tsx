import { useMemo } from 'react';
import { pictureOf } from '../pictures';
import { noFigures, type PictureProps } from '../pictures/PictureProps';
import { Shown } from '../pictures/Shown';
import { Home, Still } from '../pictures/surroundings';
import { Notes } from '../tiles/Notes';
import tileClasses from '../tiles/tiles.module.css';
import { PaperCross } from './PaperCross';
import { PaperTable } from './PaperTable';
import classes from './paper.module.css';
import { type Band, bandsOf, blocksOf, type PaperData, type PaperTile, spread } from './paperData';

/** The height of a row of the grid, in pixels; as on the page. */
const rowHigh = 68;

/** How a tile stands on paper. */
const standing = (one: PaperTile) => pictureOf(one.tile).onPaper;
/** So many lines of a table stand beside other tiles; more of them get the width of the paper, and may go on on the next one. */
const fewLines = 14;

/** So many lines of a table are drawn; more of them are for spreadsheets. */
const mostLines = 2000;

/** How high a line of a table is, and what stands above and below its lines, in pixels. */
const [lineHigh, roomAround] = [25, 150];

/** So many lines of figures stand below one another where others stand beside them: less than a page. */
const linesBeside = 22;

/** How many lines have room in a height. */
const fitting = (height: number) => Math.max(1, Math.floor((height - roomAround) / lineHigh));

const linesOf = ({ result }: PaperTile) => result?.table?.values[0]?.length ?? 0;
/** Members across need the width of the paper, and so do many lines. */
const isLong = (one: PaperTile) =>
  standing(one) === 'wide' ||
  (standing(one) === 'lines' && (linesOf(one) > fewLines || (one.result?.subtotals?.length ?? 0) > 0));
/** True for a picture whose figures can be read in a table beside it. */
const hasFigures = (one: PaperTile) =>
  ['place', 'high'].includes(standing(one)) &&
  one.picked === null &&
  linesOf(one) > 0 &&
  pictureOf(one.tile).room === 'any';

/** What can't be opened grows, where there is no end to the room. */
const stillness = { page: null, picture: 'grow', print: 'grow', one: 'say', tiles: 'say' } as const;

/** What is taken along of a dashboard, on paper or as a page by itself. */
export const PaperPage = ({ data }: { data: PaperData }) => (
  <Still value={stillness[data.layout.mode]}>
    <Home value={data.about.address}>
      <Pages data={data} />
    </Home>
  </Still>
);

function Pages({ data }: { data: PaperData }) {
  const { about, layout } = data;
  const [first] = data.tabs.flatMap((t) => t.tiles);
  if (layout.mode === 'one' || layout.mode === 'tiles')
    return (
      <div>
        {(layout.mode === 'one'
          ? [{ one: first, key: 'one' }]
          : data.tabs.flatMap((t) => t.tiles.map((one) => ({ one, key: `${t.name} ${one.tile.name}` })))
        )
          .filter(({ one }) => layout.mode === 'one' || one?.picked === null)
          .map(
            ({ one, key }, nth) =>
              one && (
                <div
                  key={key}
                  data-slide={nth}
                  className={layout.mode === 'one' ? classes.one : undefined}
                  style={{ width: layout.width, height: layout.height ?? undefined }}
                >
                  <OnPaper one={one} data={data} isFixed hasTitle={layout.mode === 'one'} />
                  {layout.mode === 'one' && <Foot data={data} />}
                </div>
              ),
          )}
      </div>
    );
  return (
    <div className={classes.page} style={{ maxWidth: layout.width }}>
      <header className={classes.about}>
        <h1>{about.title}</h1>
        {about.description && <p>{about.description}</p>}
        <ul className={classes.state}>
          {about.state.map((sentence) => (
            <li key={sentence}>{sentence}</li>
          ))}
          <li>{about.rows}</li>
        </ul>
        <p className="quiet">
          {data.readAt && `Data read ${data.readAt}. `}Made {data.madeAt}, version {about.version} of the definitions.{' '}
          <a href={about.address}>Open it live</a>
        </p>
      </header>
      {about.before && <Words text={about.before} />}
      {data.tabs.map((tab) => (
        <section
          key={tab.name}
          aria-label={tab.title}
          className={classes.tab}
          data-part={(tab.beginsPart && tab !== data.tabs[0]) || undefined}
        >
          {data.tabs.length > 1 && <h2>{tab.title}</h2>}
          <Bands tiles={tab.tiles.filter((t) => !t.tile.section)} data={data} />
          {tab.sections.map((section) => (
            <section key={section.name} aria-label={section.title}>
              <h3>{section.title}</h3>
              <Bands tiles={tab.tiles.filter((t) => t.tile.section === section.name)} data={data} />
            </section>
          ))}
        </section>
      ))}
      {about.after && <Words text={about.after} />}
      {data.meanings.length > 0 && <Meanings of={data.meanings} />}
    </div>
  );
}

/** What the measures mean, for those who read the figures without whoever defined them. */
const Meanings = ({ of }: { of: PaperData['meanings'] }) => (
  <section aria-label="What the figures mean" className={classes.tab}>
    <h2>What the figures mean</h2>
    <dl className={classes.meanings}>
      {of.map((m) => (
        <div key={`${m.title} ${m.formula}`}>
          <dt>{m.title}</dt>
          <dd>
            {m.means && `${m.means} `}
            <code>{m.formula}</code>
          </dd>
        </div>
      ))}
    </dl>
  </section>
);

/** What a report says before or behind its tiles, a paragraph for each line. */
const Words = ({ text }: { text: string }) => (
  <div className={classes.words}>
    {text.split('\n').map((line) => (
      <p key={line}>{line}</p>
    ))}
  </div>
);

/** What a picture by itself says of itself. */
const Foot = ({ data: { about, readAt } }: { data: PaperData }) => (
  <p className={classes.foot}>
    {about.title}. {about.rows}.{readAt && ` Data read ${readAt}.`} Version {about.version}.
  </p>
);

function Bands({ tiles, data }: { tiles: PaperTile[]; data: PaperData }) {
  const bands = useMemo(() => bandsOf(tiles), [tiles]);
  return bands.map((band) => {
    const rest = { ...band, tiles: band.tiles.filter((t) => !isLong(t)) };
    const isWhole = rest.tiles.length === band.tiles.length && data.detail !== 'short';
    const beside = isWhole ? rest : spread(rest);
    return (
      <div key={band.from}>
        {beside.tiles.length > 0 && <Beside band={beside} data={data} />}
        {band.tiles.filter(isLong).map((one) => (
          <div key={one.tile.name} className={classes.long}>
            <OnPaper one={one} data={data} hasTitle />
          </div>
        ))}
        {data.detail === 'long' &&
          band.tiles.filter(hasFigures).map((one) => <Figures key={one.tile.name} one={one} />)}
      </div>
    );
  });
}

/** The figures behind a picture, several short lines beside one another. */
function Figures({ one: { tile, result } }: { one: PaperTile }) {
  if (!result?.table) return null;
  const { columns, values } = result.table;
  const lines = values[0]?.length ?? 0;
  const beside = columns.length <= 3 ? 3 : 1;
  const parts = blocksOf([...Array(Math.min(lines, mostLines)).keys()], beside === 1 ? mostLines : linesBeside);
  return (
    <section className={classes.long} aria-label={`Figures of ${tile.title || tile.name}`}>
      <h3 className={classes.title}>{`Figures of ${tile.title || tile.name}`}</h3>
      {lines > mostLines && (
        <p className={classes.filters}>
          The first {mostLines} of {lines.toLocaleString('en-US')} lines that it has.
        </p>
      )}
      {blocksOf(parts, beside).map((row) => (
        <div key={row[0]?.[0]} className={beside > 1 ? classes.beside : undefined} data-beside={beside}>
          {row.map((part) => (
            <div key={part[0]}>
              <PaperTable
                tile={tile}
                result={{
                  ...result,
                  totals: null,
                  table: { columns, values: values.map((v) => v.slice(part[0], (part.at(-1) ?? 0) + 1)) },
                }}
                isSortable={false}
              />
            </div>
          ))}
        </div>
      ))}
    </section>
  );
}

/** Tiles beside one another, in their places. */
function Beside({ band, data }: { band: Band; data: PaperData }) {
  const only = band.tiles.length === 1;
  return (
    <div className={classes.band}>
      {band.tiles.map((one) => {
        const { place } = one.tile;
        const isFixed =
          standing(one) === 'place' && pictureOf(one.tile).room === 'any' && one.picked === null && !one.tile.repeats;
        const high = place.height * rowHigh - 12;
        return (
          <div
            key={one.tile.name}
            style={{
              gridColumn: only ? '1 / -1' : `${place.column + 1} / span ${place.width}`,
              gridRow: `${place.row - band.from + 1} / span ${place.height}`,
              [isFixed ? 'height' : 'minHeight']: high,
            }}
          >
            <OnPaper one={one} data={data} isFixed={isFixed} hasTitle />
          </div>
        );
      })}
    </div>
  );
}

const nothing = () => undefined;

interface TileProps {
  one: PaperTile;
  data: PaperData;
  /** True if its height is given; else it is as high as it needs. */
  isFixed?: boolean;
  hasTitle: boolean;
}

function OnPaper({ one, data, isFixed, hasTitle }: TileProps) {
  const { tile, result } = one;
  const filters = result?.filters?.applied ?? [];
  return (
    <section
      className={`${tileClasses.tile} ${classes.tile}`}
      data-tile={tile.name}
      data-picture={tile.picture}
      data-fixed={isFixed || undefined}
      data-small={pictureOf(tile).isSmall || undefined}
      data-high={standing(one) === 'high' || tile.repeats || undefined}
      aria-label={tile.title || tile.alt || 'Text'}
    >
      {hasTitle && tile.title && <h2 className={classes.title}>{tile.title}</h2>}
      {filters.length > 0 && (
        <p className={classes.filters}>{filters.map((f) => `${f.fields}: ${f.members.join(', ')}`).join('; ')}</p>
      )}
      <div className={tileClasses.body}>
        <Body one={one} data={data} />
      </div>
    </section>
  );
}

function Body({ one, data }: { one: PaperTile; data: PaperData }) {
  const { tile, result, picked } = one;
  const kind = pictureOf(tile);
  if (picked !== null) return <p className={classes.picked}>{picked}</p>;
  const given: Omit<PictureProps, 'result'> = {
    tile: { ...tile, pick: 'none', hasTools: false },
    weekStarts: data.weekStarts,
    selection: one.selection ?? undefined,
    onSelect: nothing,
    onFind: () => Promise.resolve({ members: [], lines: 0, names: null }),
    onFile: () => {
      const file = data.files[tile.name];
      return file ? Promise.resolve(file) : Promise.reject(new Error('It has no file.'));
    },
  };
  if (tile.dataset === null) return <Shown {...given} kind={kind} result={noFigures} />;
  if (result?.problem)
    return (
      <p className={tileClasses.message}>
        <b>{result.problem.detail}</b>
      </p>
    );
  if (!result?.table) return null;
  const drawn = { ...result, table: result.table };
  // What says all of itself, whose rows it has too.
  if (kind.saysEmpty) return <Shown {...given} kind={kind} result={drawn} />;
  const lines = linesOf(one);
  if (lines === 0)
    return (
      <p className={tileClasses.message}>{result.note ?? 'No rows meet the filters and conditions of this tile.'}</p>
    );
  return (
    <>
      {(result.subtotals?.length ?? 0) > 0 ? (
        <PaperCross
          tile={tile}
          result={drawn}
          width={data.layout.width}
          most={data.layout.height === null ? undefined : fitting(data.layout.height)}
        />
      ) : kind.onPaper === 'lines' ? (
        <PaperTable
          tile={tile}
          result={drawn}
          isSortable={data.layout.mode === 'page'}
          most={data.layout.height === null ? mostLines : fitting(data.layout.height)}
        />
      ) : (
        <Shown {...given} kind={kind} result={drawn} />
      )}
      <Notes result={drawn} rows={lines} />
    </>
  );
}
