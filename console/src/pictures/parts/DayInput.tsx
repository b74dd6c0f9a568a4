import '@mantine/core/styles/Paper.css';
import '@mantine/dates/styles.css';
import { DateInput } from '@mantine/dates';
import { readDay } from './day';

interface Props {
  label: string;
  /** As 2025-02-03; empty for none. */
  value: string;
  onChange: (day: string) => void;
  weekStarts: string;
  error?: string;
}

/** A day, typed as it is written elsewhere on the page or as ISO 8601 has it, or taken from a calendar. */
export function DayInput({ label, value, onChange, weekStarts, error }: Props) {
  return (
    <DateInput
      size="xs"
      aria-label={label}
      placeholder={label}
      value={value || null}
      valueFormat="D MMM YYYY"
      dateParser={readDay}
      clearable
      firstDayOfWeek={weekStarts === 'sunday' ? 0 : weekStarts === 'saturday' ? 6 : 1}
      weekendDays={[]}
      error={error}
      popoverProps={{ withinPortal: true }}
      onChange={(day) => onChange(day ?? '')}
    />
  );
}
