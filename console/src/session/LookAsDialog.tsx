import { Button, Modal, Select } from '@mantine/core';
import { useState } from 'react';
import { lookAs } from '../api/lookAs';
import classes from './header.module.css';
import { lackOf, useOthers } from './useOthers';
import '../look/panels.css';

/** Chooses a role or a person to look as. */
export default function LookAsDialog({ onClose }: { onClose: () => void }) {
  const { others, choices } = useOthers();
  const [name, setName] = useState<string | null>(null);
  const lack = lackOf(others.data?.find((o) => o.name === name));
  return (
    <Modal opened onClose={onClose} title="Look as" closeButtonProps={{ 'aria-label': 'Close' }}>
      <div className={classes.password}>
        <Select
          label="A role or a person"
          placeholder={others.isPending ? 'Coming …' : 'Type to search'}
          searchable
          data={choices}
          value={name}
          onChange={setName}
          comboboxProps={{ withinPortal: true }}
        />
        <p className="quiet">
          The page becomes exactly theirs, for reading only, until you leave it. Each look is written to the audit.
        </p>
        {lack && <p role="status">{lack}</p>}
        {others.error && <p role="alert">{others.error.message}</p>}
        <Button disabled={name === null} onClick={() => name !== null && lookAs(name)}>
          Look
        </Button>
      </div>
    </Modal>
  );
}
