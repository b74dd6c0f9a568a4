import { expect, test } from 'vitest';
import type { TileInfo } from '../../api/client';
import { column, input } from '../parts/testing';
import { draw } from './draw';

test('Areas of a split lie on one another only where they add up', () => {
  const columns = [
    column('m', 'group', 'date', 'month'),
    { ...column('area', 'group', 'text'), places: { North: 0, South: 1 } },
    column('f', 'figure', 'integer'),
  ];
  const values = [
    ['2025-01-01', '2025-01-01'],
    ['North', 'South'],
    [5, 6],
  ];
  const stacks = (additive: boolean) => {
    const given = input('area', columns, values);
    const tile = { ...given.tile, show: [{ additive }] } as unknown as TileInfo;
    return (draw({ ...given, tile }).option.series as { stack?: string; areaStyle?: object }[]).map((s) => [
      s.stack,
      s.areaStyle !== undefined,
    ]);
  };
  expect(stacks(true)).toEqual([
    ['all', true],
    ['all', true],
  ]);
  expect(stacks(false)).toEqual([
    [undefined, true],
    [undefined, true],
  ]);
});
