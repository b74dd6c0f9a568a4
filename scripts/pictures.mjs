// Writes docs/pictures.md from what the kinds of picture declare and from the demo's atlas: node scripts/pictures.mjs
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';

const root = new URL('..', import.meta.url);
const table = execFileSync(new URL('weir', root).pathname, ['schema', '--pictures'], { encoding: 'utf8' });
const kinds = table
  .split('\n')
  .slice(2)
  .filter(Boolean)
  .map((line) => line.split('|').map((c) => c.trim()))
  .map(([, name, what, show, by, also, pick]) => ({ name: name.replaceAll('`', ''), what, show, by, also, pick }));

// The text of each tile of the atlas, as it stands there.
const atlas = readFileSync(new URL('demo/lantern-isles/dashboards/atlas.yaml', root), 'utf8').split('\n');
const tiles = [];
for (const line of atlas) {
  if (/^ {6}- tile: /.test(line)) tiles.push([]);
  else if (!/^ {8}/.test(line)) {
    if (tiles.at(-1)?.length) tiles.push([]);
    continue;
  }
  tiles.at(-1).push(line.slice(6));
}
const examples = tiles.filter((t) => t.length > 0).map((t) => ({ kind: /picture: (\w+)/.exec(t.join('\n'))?.[1], text: t.join('\n') }));

const parts = [
  '# Pictures',
  '',
  "Each kind of picture, what it takes, and text to copy: the demo's *Atlas of pictures* shows them on questions about the isles. Made by",
  '`node scripts/pictures.mjs` from what the kinds declare; [definitions.md](definitions.md) tells every key.',
  '',
  '![Every kind of picture](screenshots/atlas.png)',
  '',
];
for (const kind of kinds) {
  parts.push(`## ${kind.name}`, '', `${kind.what[0].toUpperCase()}${kind.what.slice(1)}.`, '');
  const takes = [
    kind.show !== '–' && `measures under \`show\`: ${kind.show}`,
    kind.by !== '–' && `fields under \`by\`: ${kind.by}`,
    kind.also !== '–' && `also ${kind.also}`,
    `picked if left out: ${kind.pick === '–' ? 'nothing' : kind.pick}`,
  ].filter(Boolean);
  parts.push(...takes.map((t) => `- ${t}`), '');
  for (const { text } of examples.filter((e) => e.kind === kind.name)) parts.push('```yaml', text, '```', '');
}
writeFileSync(new URL('docs/pictures.md', root), `${parts.join('\n').trimEnd()}\n`);
