import { expect, test } from 'vitest';
import type { Schemas } from '../api/client';
import { nameFrom, starterOf } from './starter';
import { helpFor, wordsFor } from './words';

const field = (name: string, kind: string) => ({
  name,
  title: name,
  description: null,
  kind,
  unit: null,
  isNamed: false,
});
const measure = (name: string) => ({ name, title: name, description: null, formula: 'count(*)', additive: true });
const dataset = (fields: [string, string][], measures: string[]): Schemas['DatasetInfo'] => ({
  name: 'd',
  title: 'D',
  description: null,
  fields: fields.map(([n, k]) => field(n, k)),
  measures: measures.map(measure),
});
const keysOf = (text: string) =>
  [...text.matchAll(/^ +(?:- )?([a-z]+): (.*)$/gm)].map(([, key, value]) => [key, value]);

test('A dashboard begins with what its dataset has, each tile under a name of its own', () => {
  const whole = starterOf(
    'n',
    'Ports: all',
    dataset(
      [
        ['at', 'date'],
        ['port', 'text'],
        ['open', 'boolean'],
      ],
      ['a_b', 'course', 'table', 'more'],
    ),
  );
  expect(whole.startsWith('dashboard: n\ntitle: "Ports: all"\n')).toBe(true);
  const tiles = keysOf(whole)
    .filter(([k]) => k === 'tile')
    .map(([, v]) => v);
  expect(tiles).toEqual(['a-b', 'course', 'table', 'course-2', 'by-port', 'table-2']);
  expect(
    keysOf(whole)
      .filter(([k]) => k === 'by')
      .map(([, v]) => v),
  ).toEqual(['at.month', 'port', 'open']);
  // Without a date, without a text, without anything to tell apart.
  expect(
    keysOf(starterOf('n', 't', dataset([['port', 'text']], ['a'])))
      .filter(([k]) => k === 'picture')
      .map(([, v]) => v),
  ).toEqual(['number', 'bar', 'table']);
  expect(keysOf(starterOf('n', 't', dataset([], ['a']))).filter(([k]) => k === 'tile').length).toBe(1);
});

test('A title gives the name of its file, and is written so that it is read as it was typed', () => {
  expect(['Harbour life', '2025: Ports!', '  ', 'Été'].map(nameFrom)).toEqual(['harbour-life', 'ports', '', 't']);
  const titleOf = (title: string) => starterOf('n', title, dataset([], [])).split('\n')[1];
  expect(['yes', 'a # b', "it's", 'Plain one'].map(titleOf)).toEqual([
    'title: "yes"',
    'title: "a # b"',
    'title: "it\'s"',
    'title: Plain one',
  ]);
});

test('The words that can stand at a place are offered there and no others', () => {
  const words = {
    datasets: [
      dataset(
        [
          ['at', 'date'],
          ['port', 'text'],
        ],
        ['taken'],
      ),
    ],
    pictures: [{ name: 'bar', about: 'bars' }],
    keys: [{ name: 'show', doc: 'The measures. Any.' }],
  };
  const above = '    tiles:\n      - tile: x\n        dataset: d\n';
  const labels = (before: string, over = above) => wordsFor(over, before, words).map((o) => o.label);
  expect(labels('        picture: ')).toEqual(['bar']);
  expect(labels('        dataset: ')).toEqual(['d']);
  expect(labels('        show: [taken, ')).toEqual(['taken']);
  expect(labels('        by: ')).toEqual(['at', 'at.year', 'at.quarter', 'at.month', 'at.week', 'at.day', 'port']);
  expect(labels('        sort: { by: ')).toContain('taken');
  expect(labels('        title: ')).toEqual([]);
  expect(labels('        show: ', 'tabs:\n')).toEqual([]);
  // Keys where a tile has its keys, whichever way its list stands; and what they are for.
  const flat = 'tabs:\n- tab: a\n  tiles:\n  - tile: x\n';
  expect([labels('        sh'), labels('    sh', flat), labels('      - ', above)]).toEqual([
    ['show: '],
    ['show: '],
    ['show: '],
  ]);
  expect([labels('  sh', flat), labels('sh'), labels('          wo', `${above}        text: |\n`)]).toEqual([
    [],
    [],
    [],
  ]);
  const help = (line: string, key: string, over = above) => helpFor(over, line, key, words);
  expect([help('        show: x', 'show'), help('        by: x', 'by'), help('  show: x', 'show', flat)]).toEqual([
    'The measures. Any.',
    undefined,
    undefined,
  ]);
});
