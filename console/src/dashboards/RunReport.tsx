import { Button, Modal, Select } from '@mantine/core';
import '../look/panels.css';
import '../pictures/parts/controls.css';
import { useQuery } from '@tanstack/react-query';
import { Download } from 'lucide-react';
import { useState } from 'react';
import { api, unwrap } from '../api/client';
import type { components } from '../api/schema';
import { ParameterControl } from '../dashboard/ParameterControl';
import { fileDetails, fileForms } from '../model/fileForms';
import classes from './dashboards.module.css';

// A report has several tiles; one by itself as SVG is taken along from its dashboard.
const forms = fileForms.filter((f) => f.value !== 'svg').map(({ value, label }) => ({ value, label }));

/** Asks for other values of parameters and another form than a report says, this once. */
export default function RunReport({
  report,
  onMake,
  onClose,
}: {
  report: components['schemas']['ReportInfo'];
  onMake: (wanted: components['schemas']['ReportRun']) => void;
  onClose: () => void;
}) {
  const parameters = useQuery({
    queryKey: ['report parameters', report.name],
    queryFn: () => unwrap(api.GET('/api/reports/{report}/parameters', { params: { path: { report: report.name } } })),
  });
  const [form, setForm] = useState(report.form);
  const [detail, setDetail] = useState(report.detail);
  const [set, setSet] = useState<Record<string, string[]>>({});
  return (
    <Modal opened onClose={onClose} title={report.title} size="md" closeButtonProps={{ 'aria-label': 'Close' }}>
      <div className={classes.running}>
        {parameters.error && <p role="alert">{parameters.error.message}</p>}
        {parameters.data?.map((p) => (
          <ParameterControl
            key={p.name}
            dashboard={report.dashboard}
            parameter={p}
            values={set[p.name] ?? p.values}
            onChange={(values) => setSet({ ...set, [p.name]: values })}
          />
        ))}
        <Select
          label="As"
          size="xs"
          data={forms}
          value={form}
          onChange={(v) => v && setForm(v)}
          allowDeselect={false}
        />
        <Select
          label="How much"
          size="xs"
          data={fileDetails}
          value={detail}
          onChange={(v) => v && setDetail(v)}
          allowDeselect={false}
        />
        <p className="quiet">This once, with the rows that you may see. What the report says for others stays.</p>
        <div className={classes.ends}>
          <Button
            leftSection={<Download size={14} aria-hidden />}
            onClick={() => {
              onClose();
              onMake({ form, parameters: set, detail });
            }}
          >
            Make the file
          </Button>
        </div>
      </div>
    </Modal>
  );
}
