import { useQuery } from '@tanstack/react-query';
import { api, type Schemas, unwrap } from '../api/client';

/** Roles and persons that one can look as, by what they are, for a choice; only for who may. */
export function useOthers(mayLook = true) {
  const others = useQuery({
    queryKey: ['others'],
    queryFn: () => unwrap(api.GET('/api/access/others')),
    enabled: mayLook,
  });
  const group = (title: string, isRole: boolean) => ({
    group: title,
    items: (others.data ?? []).filter((o) => o.isRole === isRole).map((o) => ({ value: o.name, label: o.title })),
  });
  return { others, choices: [group('Roles', true), group('People', false)] };
}

/** What somebody lacks that row rules ask for, in words; undefined for who lacks nothing. */
export const lackOf = (other: Schemas['OtherViewer'] | undefined): string | undefined =>
  other && other.lacks.length > 0
    ? `${other.isRole ? 'The role alone' : other.title} has no ${other.lacks.join(' and no ')}, which row rules ask for: by those rules it sees no row.`
    : undefined;
