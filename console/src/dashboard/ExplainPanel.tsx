import { Button, Checkbox, Drawer } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type Schemas, unwrap, zone } from '../api/client';
import { answersFor } from '../model/page/cells';
import { asked } from '../model/selections';
import { wiringOf } from '../model/wiring';
import classes from './dashboard.module.css';
import { useDispatch, usePage } from './usePage';
import '../look/panels.css';

type Explanation = Schemas['Explanation'];

/** Where the figures of a tile come from, and what filters it and what does not. */
export default function ExplainPanel({ tile }: { tile: string }) {
  const dispatch = useDispatch();
  const { explanation, counting, count } = useExplanation(tile);
  // How long the answer took that the tile shows, in milliseconds; a figure of the page's own took none of the database's time.
  const took = usePage((s) => (s.tiles[tile]?.isFolded ? undefined : s.tiles[tile]?.result?.milliseconds));
  const e = explanation.data;
  return (
    <Drawer
      opened
      onClose={() => dispatch({ type: 'explain' })}
      position="right"
      size={460}
      title="Where this comes from"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {explanation.error && <p role="alert">{explanation.error.message}</p>}
      {e && (
        <div className={classes.explain}>
          <Origin of={e} />
          <Filters of={e.filters} />
          {took !== undefined && <p>What is shown was answered in {Math.round(took)} ms.</p>}
          {counting.data ? (
            <p>
              {(counting.data.rows ?? 0).toLocaleString('en-US')} rows meet them
              {counting.data.milliseconds !== null && `; asked again in ${Math.round(counting.data.milliseconds)} ms`}.
            </p>
          ) : (
            <Button size="compact-xs" variant="default" loading={counting.isFetching} onClick={count}>
              Count the rows that meet them
            </Button>
          )}
          {counting.error && <p role="alert">{counting.error.message}</p>}
          <InThePage tile={tile} />
          <Statements of={e} />
        </div>
      )}
    </Drawer>
  );
}

/** What the service says of a tile as it is filtered now. @returns With what asks it to count rows, too. */
function useExplanation(tile: string) {
  const page = usePage((s) => s.page);
  const selections = usePage((s) => s.applied);
  const set = usePage((s) => s.set);
  const key = ['explanation', page.name, tile, selections, set];
  const explain = (count: boolean) =>
    unwrap(
      api.POST('/api/dashboards/{dashboard}/tiles/{tile}/explanation', {
        params: { path: { dashboard: page.name, tile } },
        body: { selections: asked(selections), viewing: { parameters: set, zone, view: page.view.view }, count },
      }),
    );
  const explanation = useQuery({ queryKey: key, queryFn: () => explain(false) });
  // Counting asks the database, which looking does not.
  const [counted, setCounted] = useState<string>();
  const of = JSON.stringify([tile, selections, set]);
  const counting = useQuery({
    queryKey: [...key, 'counted'],
    enabled: counted === of,
    retry: false,
    queryFn: () => explain(true),
  });
  return { explanation, counting, count: () => setCounted(of) };
}

/** The data, what is worked out of them, and whose rows they are. */
function Origin({ of: e }: { of: Explanation }) {
  return (
    <>
      <strong>{e.title}</strong>
      <p className="quiet">
        {e.dataset}, from {e.source}
      </p>
      {e.measures.length > 0 && <h3>Measures</h3>}
      {e.measures.map((m) => (
        <p key={m.name}>
          {m.title} = <code>{m.formula}</code>
          {m.description && <span className="quiet"> {m.description}</span>}
        </p>
      ))}
      {e.parameters.length > 0 && <h3>Parameters</h3>}
      {e.parameters.map((p) => (
        <p key={p.name}>
          {p.title}: {p.values.length === 0 ? 'empty, restricts nothing' : p.values.join(', ')}
        </p>
      ))}
      <h3>Rows you may see</h3>
      {e.rowRules.map((r) => (
        <p key={r.role}>
          {r.role}: {r.rule ? <code>{r.rule}</code> : 'all rows'}
        </p>
      ))}
      {e.datasetFilter && <p>{e.datasetFilter}</p>}
    </>
  );
}

function Filters({ of: { applied, notApplied } }: { of: Explanation['filters'] }) {
  const dispatch = useDispatch();
  return (
    <>
      <h3>Filters that apply</h3>
      {applied.length === 0 && <p className="quiet">None.</p>}
      <ul>
        {applied.map((f) => (
          <li key={f.tile}>
            <span>
              {f.fields}: {f.members.join(', ')}{' '}
              <span className="quiet">
                picked on {f.tileTitle}, tab {f.tab}
              </span>
            </span>
            <Button
              size="compact-xs"
              variant="subtle"
              flex="none"
              onClick={() => dispatch({ type: 'pick', tile: f.tile, selection: undefined })}
            >
              Clear
            </Button>
          </li>
        ))}
      </ul>
      {notApplied.length > 0 && <h3>Filters that do not apply</h3>}
      <ul>
        {notApplied.map((f) => (
          <li key={f.tile}>
            <span>
              {f.tileTitle} <span className="quiet">{f.sentence}</span>
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

/** Whose picks the page answers by itself, and the check of such answers. */
function InThePage({ tile }: { tile: string }) {
  const dispatch = useDispatch();
  const page = usePage((s) => s.page);
  const cells = usePage((s) => s.cells);
  const check = usePage((s) => s.check);
  const { byPage, byService } = answersFor(cells, tile);
  const titleOf = (name: string) => wiringOf(page).named.get(name)?.title ?? name;
  return (
    <>
      <h3>Answered in the page</h3>
      <p>
        {byPage.length === 0 && byService.length === 0
          ? 'Nothing yet. Come near a tile on which something can be picked, and what it drives is made ready.'
          : `Picks on ${byPage.length === 0 ? 'no tile' : byPage.map(titleOf).join(', ')} are answered here without asking the database.`}
      </p>
      {byService.map(({ driver, reason }) => (
        <p key={driver} className="quiet">
          Picks on {titleOf(driver)} ask the database: {reason}.
        </p>
      ))}
      <Checkbox
        size="xs"
        label="Check such answers against the database once the hand rests"
        checked={check.isOn}
        onChange={(x) => dispatch({ type: 'check', isOn: x.currentTarget.checked })}
      />
      {check.problem && <p role="alert">The check could not be made: {check.problem}</p>}
    </>
  );
}

const Statements = ({ of: { sql, withheld } }: { of: Explanation }) => (
  <>
    {withheld && <h3>SQL</h3>}
    {withheld && <p>{withheld}</p>}
    {sql.map((s, i) => (
      <section key={s.why}>
        <h3>{sql.length === 1 ? 'SQL' : `SQL ${i + 1} of ${sql.length}`}</h3>
        <p className="quiet">
          For {s.why}
          {s.wave > 1 && ', once the answers before are there'}.
        </p>
        <pre>
          {s.text}
          {s.parameters.map((p) => `\n${p.mark} ${p.kind} ${p.open ?? JSON.stringify(p.value ?? null)}`).join('')}
        </pre>
      </section>
    ))}
  </>
);
