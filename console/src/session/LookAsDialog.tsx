import { Button, Modal, Select } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, unwrap } from '../api/client';
import { lookAs } from '../api/lookAs';
import classes from './header.module.css';
import '../look/panels.css';

/** Chooses a role or a person to look as. */
export default function LookAsDialog({ onClose }: { onClose: () => void }) {
  const others = useQuery({ queryKey: ['others'], queryFn: () => unwrap(api.GET('/api/access/others')) });
  const [name, setName] = useState<string | null>(null);
  const chosen = others.data?.find((o) => o.name === name);
  const group = (title: string, isRole: boolean) => ({
    group: title,
    items: (others.data ?? []).filter((o) => o.isRole === isRole).map((o) => ({ value: o.name, label: o.title })),
  });
  return (
    <Modal opened onClose={onClose} title="Look as" closeButtonProps={{ 'aria-label': 'Close' }}>
      <div className={classes.password}>
        <Select
          label="A role or a person"
          placeholder={others.isPending ? 'Coming …' : 'Type to search'}
          searchable
          data={[group('Roles', true), group('People', false)]}
          value={name}
          onChange={setName}
          comboboxProps={{ withinPortal: true }}
        />
        <p className="quiet">
          The page becomes exactly theirs, for reading only, until you leave it. Each look is written to the audit.
        </p>
        {chosen && chosen.lacks.length > 0 && (
          <p role="status">
            {chosen.isRole ? 'The role alone' : chosen.title} has no {chosen.lacks.join(' and no ')}, which row rules
            ask for: by those rules it sees no row.
          </p>
        )}
        {others.error && <p role="alert">{others.error.message}</p>}
        <Button disabled={name === null} onClick={() => name !== null && lookAs(name)}>
          Look
        </Button>
      </div>
    </Modal>
  );
}
