import { Drawer } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { api, unwrap } from '../api/client';
import { useDispatch, usePage } from '../dashboard/usePage';
import classes from './arrange.module.css';
import '../look/panels.css';
import { whenOf } from '../look/when';

/** The last steps of one's own arrangement; a click goes to the state after one, back or forth. */
export default function StepsPanel({ onClose }: { onClose: () => void }) {
  const dispatch = useDispatch();
  const page = usePage((s) => s.page);
  const { name: dashboard, view } = page;
  const steps = useQuery({
    // Each edit comes back with another page.
    queryKey: ['steps', dashboard, view.canUndo, view.canRedo, page],
    queryFn: () =>
      unwrap(
        api.GET('/api/dashboards/{dashboard}/view/steps', {
          params: { path: { dashboard }, query: { view: view.view } },
        }),
      ),
    placeholderData: (p) => p,
  });
  const all = steps.data ?? [];
  const present = all.find((s) => !s.isUndone)?.step ?? 0;
  const line = (step: number, words: string, made?: string, isUndone = false) => (
    <li key={step}>
      <button
        type="button"
        className={classes.step}
        data-undone={isUndone}
        aria-current={step === present ? 'step' : undefined}
        onClick={() => dispatch({ type: 'go to step', step })}
      >
        <span>{words}</span>
        {made && <time dateTime={made}>{whenOf(made)}</time>}
      </button>
    </li>
  );
  return (
    <Drawer
      opened
      onClose={onClose}
      position="right"
      size={420}
      title="Your steps on this dashboard"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <p className="quiet">
        Click one to have the arrangement as it was after it. Steps above the present one are taken back until you go
        on.
      </p>
      {steps.error && <p role="alert">{steps.error.message}</p>}
      {steps.data && (
        <ol className={classes.steps} aria-label="Steps, the newest first">
          {all.map((s) => line(s.step, s.words, s.made, s.isUndone))}
          {all.length < 100 && line(0, 'The opening view')}
        </ol>
      )}
    </Drawer>
  );
}
