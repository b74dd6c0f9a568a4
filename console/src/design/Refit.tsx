import { Select } from '@mantine/core';
import type { Schemas } from '../api/client';
import classes from './design.module.css';

export type Wish = { from: string; to: string; names: Record<string, string> };

interface Props {
  found: Schemas['RefitAnswer'];
  datasets: { name: string; title: string }[];
  wishes: Wish[];
  onWish: (wishes: Wish[]) => void;
}

/** What a worked example is to be over: each of its datasets, and what stands for its measures and fields there. */
export function Refit({ found, datasets, wishes, onWish }: Props) {
  const with_ = (from: string, wish: Wish | undefined) => [
    ...wishes.filter((w) => w.from !== from),
    ...(wish ? [wish] : []),
  ];
  return (
    <>
      {found.datasets.map((d) => (
        <div key={d.name}>
          <Select
            mt="sm"
            label={`In place of ${d.title}`}
            searchable
            allowDeselect={false}
            data={datasets.map((o) => ({ value: o.name, label: o.name === d.name ? `${o.title}, as it is` : o.title }))}
            value={d.to}
            onChange={(to) => to && onWish(with_(d.name, to === d.name ? undefined : { from: d.name, to, names: {} }))}
          />
          {d.to !== d.name && (
            <ul className={classes.refit} aria-label={`What stands for ${d.title}`}>
              {d.names.map((n) => (
                <li key={n.name}>
                  <Select
                    size="xs"
                    label={`${n.title}${n.kind ? '' : ' (measure)'}`}
                    placeholder="Nothing: left out"
                    searchable
                    clearable
                    data={n.options.map((o) => ({ value: o.name, label: o.title }))}
                    value={n.to}
                    onChange={(to) => {
                      const now = wishes.find((w) => w.from === d.name);
                      onWish(with_(d.name, { from: d.name, to: d.to, names: { ...now?.names, [n.name]: to ?? '' } }));
                    }}
                  />
                </li>
              ))}
            </ul>
          )}
        </div>
      ))}
      <Told
        says={`${found.leftOut.length === 1 ? 'One tile does' : `${found.leftOut.length} tiles do`} not fit, and are left out:`}
        tiles={found.leftOut}
      />
      <Told says="Written for other data, and kept as it is; look it over:" tiles={found.kept} />
    </>
  );
}

/** Tiles, each with what is to be known of it; nothing where there are none. */
function Told({ says, tiles }: { says: string; tiles: Schemas['RefitTile'][] }) {
  return tiles.length === 0 ? null : (
    <div role="status" className={classes.kept} style={{ marginBlock: 12 }}>
      <p>{says}</p>
      <ul>
        {tiles.map((t) => (
          <li key={t.tile}>
            {t.tile}: {t.why}
          </li>
        ))}
      </ul>
    </div>
  );
}
