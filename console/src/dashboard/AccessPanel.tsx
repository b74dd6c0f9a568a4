import { Drawer, Table } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { api, type Schemas, unwrap } from '../api/client';
import classes from './dashboard.module.css';
import { usePage } from './usePage';
import '../look/panels.css';
import '@mantine/core/styles/Table.css';

/** Acts with the roles that give each set of them. */
function actsOf(line: Schemas['AccessLine']): string[] {
  const by = new Map<string, string[]>();
  for (const { act, by: roles, areas } of line.acts) {
    const key = line.isRole ? '' : roles.join(', ');
    by.set(key, [...(by.get(key) ?? []), areas ? `${act} ${areas.join(' and ')} only` : act]);
  }
  return [...by].map(([roles, acts]) => acts.join(', ') + (roles ? ` (${roles})` : ''));
}

/** Who may see this dashboard: roles and people with the rows, hidden fields and acts of each, and what gives them. */
export default function AccessPanel({ onClose }: { onClose: () => void }) {
  const dashboard = usePage((s) => s.page.name);
  const access = useQuery({
    queryKey: ['access', dashboard],
    queryFn: () => unwrap(api.GET('/api/access/dashboards/{dashboard}', { params: { path: { dashboard } } })),
  });
  const lines = access.data?.lines ?? [];
  const table = (title: string, of: typeof lines) => (
    <section>
      <h3>{title}</h3>
      {of.length === 0 && <p className="quiet">None.</p>}
      {of.length > 0 && (
        <Table.ScrollContainer minWidth={620} type="native">
          <Table verticalSpacing={6} layout="fixed">
            <Table.Thead>
              <Table.Tr>
                <Table.Th w="22%">Who</Table.Th>
                <Table.Th w="34%">Rows</Table.Th>
                <Table.Th w="24%">Hidden</Table.Th>
                <Table.Th w="20%">May</Table.Th>
              </Table.Tr>
            </Table.Thead>
            <Table.Tbody>
              {of.map((l) => (
                <Table.Tr key={l.name}>
                  <Table.Td>
                    {l.title}
                    {l.roles.length > 0 && <div className="quiet">{l.roles.join(', ')}</div>}
                  </Table.Td>
                  <Table.Td>
                    {l.datasets.map((d) => (
                      <div key={d.dataset}>
                        <span className="quiet">{d.title}</span>
                        {d.rows.map((r) => (
                          <div key={r}>{r}</div>
                        ))}
                      </div>
                    ))}
                  </Table.Td>
                  <Table.Td>{[...new Set(l.datasets.flatMap((d) => d.hidden))].join(', ') || '–'}</Table.Td>
                  <Table.Td>
                    {actsOf(l).map((a) => (
                      <div key={a}>{a}</div>
                    ))}
                  </Table.Td>
                </Table.Tr>
              ))}
            </Table.Tbody>
          </Table>
        </Table.ScrollContainer>
      )}
    </section>
  );
  return (
    <Drawer
      opened
      onClose={onClose}
      position="right"
      size="min(900px, 96vw)"
      title="Who may see this"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {access.error && <p role="alert">{access.error.message}</p>}
      {access.data && (
        <div className={classes.explain}>
          {access.data.byReading && (
            <p>No role grants dashboards by name: each is there for whoever reads one of its datasets.</p>
          )}
          {table(
            'People',
            lines.filter((l) => !l.isRole),
          )}
          {table(
            'Roles',
            lines.filter((l) => l.isRole),
          )}
        </div>
      )}
    </Drawer>
  );
}
