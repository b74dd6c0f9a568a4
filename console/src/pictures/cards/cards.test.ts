import { expect, test } from 'vitest';
import { column } from '../parts/testing';
import { cardsOf } from './cards';

const format = (unit: string, factor = 1) => ({ unit, decimals: 0, factor });
const figures = [
  { ...column('n', 'figure', 'integer'), format: format('t') },
  { ...column('late', 'figure', 'float'), format: format('%', 100) },
] as Parameters<typeof cardsOf>[0]['columns'];

test('There is a card for each measure, or for each member with the others below', () => {
  expect(cardsOf({ columns: figures, values: [[1234], [null]] }).map((c) => [c.name, c.figure, c.unit])).toEqual([
    ['n', '1,234', 't'],
    ['late', '–', ''],
  ]);
  const columns = [column('area', 'group', 'text'), column('rest', 'rest', 'boolean'), ...figures];
  const cards = cardsOf({
    columns: columns as typeof figures,
    values: [
      ['a', null, null],
      [false, false, true],
      [5, 6, 7],
      [0.1, 0.2, 0.3],
    ],
  });
  expect(cards.map((c) => [c.name, c.figure, c.below[0]?.text, c.isRest])).toEqual([
    ['a', '5', '10 %', false],
    ['not given', '6', '20 %', false],
    ['all others', '7', '30 %', true],
  ]);
});
