import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { api, type Schemas, unwrap } from '../api/client';
import classes from './design.module.css';
import { FieldList } from './FieldList';
import { Proposed } from './Proposed';
import type { Dataset } from './written';

interface Props {
  /** The draft for which is proposed. */
  dashboard: string;
  datasets: Dataset[];
  first: string | undefined;
  /** False for a proposal that can't be taken here. */
  fits?: (proposal: Schemas['Proposal']) => boolean;
  onTake: (proposal: Schemas['Proposal'], chosen: string[], dataset: string) => void;
  /** What stands there before anything is chosen. */
  children: (dataset: string | undefined) => ReactNode;
}

/** Measures and fields are chosen, and what suits them is shown with real figures, to be taken with a click. */
export function Choosing({ dashboard, datasets, first, fits = () => true, onTake, children }: Props) {
  const [dataset, setDataset] = useState(first);
  const [chosen, setChosen] = useState<string[]>([]);
  const proposals = useQuery({
    queryKey: ['proposals', dashboard, dataset, chosen],
    enabled: chosen.length > 0,
    queryFn: () =>
      unwrap(
        api.POST('/api/drafts/dashboards/{dashboard}/proposals', {
          params: { path: { dashboard } },
          body: { dataset: dataset ?? null, names: chosen },
        }),
      ),
  });
  const fitting = proposals.data?.proposals.filter(fits);
  return (
    <div className={classes.adding}>
      <div className={classes.choosing}>
        <FieldList
          datasets={datasets}
          dataset={dataset}
          onDataset={(d) => {
            setDataset(d);
            setChosen([]);
          }}
          chosen={chosen.length > 0 ? chosen : [' ']}
          hint="Choose what it is to tell of: measures, and the fields to tell them by."
          onClick={({ name }) =>
            setChosen(chosen.includes(name) ? chosen.filter((n) => n !== name) : [...chosen, name])
          }
        />
      </div>
      <div>
        {chosen.length === 0 ? (
          children(dataset)
        ) : proposals.error ? (
          <p role="alert">{proposals.error.message}</p>
        ) : fitting?.length === 0 ? (
          <p>No picture takes all of that at once. Choose less.</p>
        ) : (
          proposals.data &&
          fitting && (
            <Proposed
              key={proposals.data.trial}
              dashboard={proposals.data.dashboard}
              trial={proposals.data.trial}
              only={fitting.map((p) => p.tile)}
              onTake={(name) => {
                const one = fitting.find((p) => p.tile === name);
                if (one) onTake(one, chosen, dataset ?? '');
              }}
            />
          )
        )}
      </div>
    </div>
  );
}
