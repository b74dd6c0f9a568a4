import { Autocomplete } from '@mantine/core';
import type { Schemas } from '../api/client';

interface Props {
  of: Schemas['DefinitionKeyInfo'];
  value: string | undefined;
  /** The unit that is said of it. */
  unit: string | undefined;
  isDate: boolean;
  onWrite: (value: string | undefined) => void;
}

/** The ways of writing a number that most need, and how each writes one. */
const ways: Record<string, string> = {
  integer: '1,235',
  decimal: '1,234.57',
  '0.0': '1,234.6',
  percent: '12.3 %, of 0.123',
  money: '1,235 and the unit of money',
  'short integer': '12 k, 3 m',
  'short 0.0': '12.4 k, 3.1 m',
  plain: '2026, without marks',
};

const ofDates: Record<string, string> = {
  'd MMM yyyy': '7 Mar 2026',
  'dd.MM.yyyy': '07.03.2026',
  'yyyy-MM-dd': '2026-03-07',
};

/** How numbers are written: chosen by what comes of it, or written. */
export function FormatForm({ of, value, unit, isDate, onWrite }: Props) {
  const all: Record<string, string> = {
    ...(isDate ? ofDates : ways),
    ...(unit && !isDate ? { [`0 ${unit}`]: `1,235 ${unit}`, [`0.0 ${unit}`]: `1,234.6 ${unit}` } : {}),
  };
  return (
    <Autocomplete
      key={value}
      label="format"
      description={of.doc}
      // All of them are looked at, whatever stands there now.
      filter={({ options }) => options}
      data={Object.keys(all)}
      defaultValue={value ?? ''}
      renderOption={({ option }) => (
        <span>
          <code>{option.value}</code> <span className="quiet">{all[option.value]}</span>
        </span>
      )}
      onOptionSubmit={onWrite}
      onBlur={(e) => {
        const next = e.currentTarget.value.trim();
        if (next !== (value ?? '')) onWrite(next === '' ? undefined : next);
      }}
    />
  );
}
