import type { Schemas } from '../api/client';

type Dataset = Schemas['DatasetInfo'];

const isDate = (kind: string) => kind === 'date' || kind === 'timestamp';

/** A name that a dashboard can have, from what it is called. */
export const nameFrom = (title: string): string =>
  title
    .trim()
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^[^a-z]+|-+$/g, '')
    .slice(0, 64);

/** A text as YAML has it on one line: as it is where that can be meant no other way, else in quotes. */
const plain = (text: string) =>
  /^[A-Za-z][A-Za-z0-9 _.-]*$/.test(text) && !/^(true|false|null|yes|no|on|off|y|n)$/i.test(text)
    ? text.trimEnd()
    : JSON.stringify(text);

/** The text of a dashboard with nothing on it. */
export const emptyOf = (name: string, title: string): string =>
  [
    `dashboard: ${name}`,
    `title: ${plain(title)}`,
    'tabs:',
    '  - tab: overview',
    '    columns: 3',
    '    tiles: []',
    '',
  ].join('\n');

/**
 * The text of a first dashboard over a dataset, as somebody would write it who begins: its first measures as figures, the first of
 * them along time and by what can be told apart, and all of them in a table; each drives the others.
 */
export function starterOf(name: string, title: string, dataset: Dataset): string {
  const measures = dataset.measures.map((m) => m.name);
  const [first] = measures;
  const along = dataset.fields.find((f) => isDate(f.kind));
  const apart = dataset.fields.filter((f) => f.kind === 'text' || f.kind === 'boolean');
  const tiles: [string, string[]][] = [
    ...measures
      .slice(0, 3)
      .map((m): [string, string[]] => [
        m.replaceAll('_', '-'),
        ['picture: number', `dataset: ${dataset.name}`, `show: ${m}`],
      ]),
    ...(first && along
      ? [
          ['course', ['picture: line', `dataset: ${dataset.name}`, `show: ${first}`, `by: ${along.name}.month`]] as [
            string,
            string[],
          ],
        ]
      : []),
    ...(first && apart[0]
      ? [
          [
            `by-${apart[0].name.replaceAll('_', '-')}`,
            [
              'picture: bar',
              `dataset: ${dataset.name}`,
              `show: ${first}`,
              `by: ${apart[0].name}`,
              `sort: { by: ${first}, order: descending }`,
              'top: { count: 10, rest: true }',
            ],
          ] as [string, string[]],
        ]
      : []),
    ...(first && (apart[1] ?? apart[0])
      ? [
          [
            'table',
            [
              'picture: table',
              `dataset: ${dataset.name}`,
              `show: [${measures.slice(0, 4).join(', ')}]`,
              `by: ${(apart[1] ?? apart[0])?.name}`,
            ],
          ] as [string, string[]],
        ]
      : []),
  ];
  const names = new Set<string>();
  const lines = tiles.flatMap(([tile, keys]) => {
    let own = tile;
    for (let i = 2; names.has(own); i++) own = `${tile}-${i}`;
    names.add(own);
    return [`      - tile: ${own}`, ...keys.map((k) => `        ${k}`)];
  });
  return [
    `dashboard: ${name}`,
    `title: ${plain(title)}`,
    'tabs:',
    '  - tab: overview',
    '    columns: 3',
    '    tiles:',
    ...lines,
    '',
  ].join('\n');
}
