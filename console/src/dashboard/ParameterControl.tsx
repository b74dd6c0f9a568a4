import { Autocomplete, MultiSelect, Select, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { api, type ParameterState, unwrap } from '../api/client';
import { faultOf, periods } from '../model/parameters';
import classes from './dashboard.module.css';

interface Props {
  dashboard: string;
  parameter: ParameterState;
  values: string[];
  onChange: (values: string[]) => void;
}

/** The control that suits a parameter: a list where there are choices, else an entry that is checked. */
export function ParameterControl({ dashboard, parameter, values, onChange }: Props) {
  const asked = useQuery({
    queryKey: ['choices', dashboard, parameter.name],
    enabled: parameter.asksChoices,
    queryFn: () =>
      unwrap(
        api.GET('/api/dashboards/{dashboard}/parameters/{parameter}/choices', {
          params: { path: { dashboard, parameter: parameter.name } },
        }),
      ),
  });
  const choices = parameter.type === 'boolean' ? yesNo : (parameter.choices ?? asked.data);
  const label = <span title={parameter.description ?? undefined}>{parameter.title}</span>;
  const common = { label, size: 'xs' as const, className: classes.parameter };
  if (choices) {
    const data = choices.map((c) => ({ value: c.value, label: c.title }));
    return parameter.many ? (
      <MultiSelect
        {...common}
        aria-label={parameter.title}
        data={data}
        value={values}
        onChange={onChange}
        clearable={parameter.optional}
        searchable={data.length > 12}
        placeholder={values.length === 0 ? 'All' : undefined}
      />
    ) : (
      <Select
        {...common}
        aria-label={parameter.title}
        data={data}
        value={values[0] ?? null}
        onChange={(v) => onChange(v === null ? [] : [v])}
        clearable={parameter.optional}
        allowDeselect={parameter.optional}
        searchable={data.length > 12}
        placeholder="All"
      />
    );
  }
  return <Entry {...common} parameter={parameter} value={values[0] ?? ''} onChange={onChange} />;
}

const yesNo = [
  { value: 'true', title: 'yes' },
  { value: 'false', title: 'no' },
];

const types: Record<string, string> = { integer: 'number', decimal: 'number', float: 'number', date: 'date' };

/** A typed value: it holds once it is entered, not at each letter. */
function Entry({
  parameter,
  value,
  onChange,
  ...common
}: {
  parameter: ParameterState;
  value: string;
  onChange: (values: string[]) => void;
  label: React.ReactNode;
  size: 'xs';
  className?: string;
}) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const fault = faultOf(parameter, text);
  const enter = (entered: string) => {
    if (entered !== value && !faultOf(parameter, entered)) onChange(entered === '' ? [] : [entered]);
  };
  const shared = {
    ...common,
    'aria-label': parameter.title,
    value: text,
    error: fault,
    onBlur: () => enter(text),
    onKeyDown: (event: React.KeyboardEvent) => event.key === 'Enter' && enter(text),
  };
  if (parameter.type === 'period')
    return (
      <Autocomplete {...shared} data={periods} onChange={setText} onOptionSubmit={enter} maxDropdownHeight={240} />
    );
  return (
    <TextInput
      {...shared}
      type={types[parameter.type] ?? 'text'}
      min={parameter.least ?? undefined}
      max={parameter.most ?? undefined}
      onChange={(event) => setText(event.currentTarget.value)}
    />
  );
}
