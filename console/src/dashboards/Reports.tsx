import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { Download } from 'lucide-react';
import { useState } from 'react';
import { api, unwrap } from '../api/client';
import { saved } from '../api/files';
import classes from './dashboards.module.css';

/** The reports that the viewer may have made, each with a button that does. */
export default function Reports() {
  const list = useQuery({ queryKey: ['reports'], queryFn: () => unwrap(api.GET('/api/reports')) });
  const [told, setTold] = useState<{ report: string; text: string; isProblem?: boolean }>();
  const [making, setMaking] = useState<string>();
  if (!list.data || list.data.length === 0) return null;

  async function make(report: string) {
    setMaking(report);
    setTold({ report, text: 'It is being made …' });
    try {
      const name = await saved(`/api/reports/${encodeURIComponent(report)}/run`, {});
      setTold({ report, text: `${name} is with your downloads.` });
    } catch (error) {
      setTold({ report, text: error instanceof Error ? error.message : String(error), isProblem: true });
    } finally {
      setMaking(undefined);
    }
  }

  return (
    <>
      <h2>Reports</h2>
      <ul className={classes.list} aria-label="Reports">
        {list.data.map((r) => (
          <li key={r.name} className={classes.report}>
            <div className={classes.line}>
              <span className={classes.title}>{r.title}</span>
              <span className={classes.description}>{r.description ?? `Of ${r.dashboardTitle}`}</span>
              {told?.report === r.name && (
                <span className={classes.told} role={told.isProblem ? 'alert' : 'status'}>
                  {told.text}
                </span>
              )}
            </div>
            <Button
              size="compact-sm"
              variant="default"
              aria-label={`Make the file: ${r.title}`}
              leftSection={<Download size={14} aria-hidden />}
              loading={making === r.name}
              disabled={making !== undefined}
              onClick={() => void make(r.name)}
            >
              Make the file
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
}
