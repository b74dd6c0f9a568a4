import { Modal } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { api, type TabInfo, unwrap } from '../api/client';
import { ownPrefix } from '../api/draft';
import { useDispatch, usePage } from '../dashboard/usePage';
import { Choosing } from '../design/Choosing';
import { ownName, sectionFor } from './ownName';
import '../look/panels.css';
import '../pictures/parts/controls.css';

/** A tile of the viewer's own making: what it tells of is chosen, and one of the pictures that suit it is taken. */
export default function MakeTile({ tab, onClose }: { tab: TabInfo; onClose: () => void }) {
  const page = usePage((s) => s.page);
  const dispatch = useDispatch();
  const datasets = useQuery({ queryKey: ['datasets'], queryFn: () => unwrap(api.GET('/api/datasets')) });
  return (
    <Modal
      opened
      onClose={onClose}
      size="min(1180px, 94vw)"
      title={`A tile of your own on ${tab.title}`}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {datasets.error && <p role="alert">{datasets.error.message}</p>}
      {datasets.data && (
        <Choosing
          dashboard={`${ownPrefix}tile`}
          datasets={datasets.data}
          first={tab.tiles.map((t) => t.datasetName).find(Boolean) ?? datasets.data[0]?.name}
          fits={(p) => p.drawing !== null}
          onTake={({ drawing }, chosen, dataset) => {
            if (!drawing) return;
            const tile = ownName(page, [chosen[0] ?? '', drawing.picture].join('-').replace(/[^A-Za-z0-9_-]/g, '-'));
            dispatch({
              type: 'edit',
              edit: { edit: 'make-tile', tile, dataset, drawing, tab: tab.name, section: sectionFor(tab) },
            });
            onClose();
          }}
        >
          {() => (
            <p>
              What suits the chosen measures and fields is drawn here with real figures, of the rows that you may see;
              one click puts it on your tab, where nobody else sees it.
            </p>
          )}
        </Choosing>
      )}
    </Modal>
  );
}
