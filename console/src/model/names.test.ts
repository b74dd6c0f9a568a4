import { expect, test } from 'vitest';
import type { DashboardPage } from '../api/client';
import { together, withNames } from './names';
import { selectionLabels } from './selections';

const field = { name: 'vessel', title: 'Vessel', kind: 'integer', at: null };
const page = {
  tabs: [{ tiles: [{ name: 'a', datasetName: 'd', by: [field], levels: [field] }] }],
} as unknown as DashboardPage;

test('Picks are written by the names that answers brought, and by the key where none came', () => {
  const named = withNames(page, { 'd.vessel': { '7': 'Grey Pilgrim' }, 'e.vessel': { '8': 'Another' } });
  expect(selectionLabels({ members: [[7], [8]] }, named.tabs[0]?.tiles[0]?.by ?? [])).toEqual(['Grey Pilgrim', '8']);
  expect(withNames(page, {})).toBe(page);
});

test('Names that are known already change nothing, so that nothing is drawn anew for them', () => {
  const known = { 'd.vessel': { '7': 'Grey Pilgrim' } };
  expect(together(known, { 'd.vessel': { '7': 'Grey Pilgrim' } })).toBe(known);
  expect(together(known, { 'd.vessel': { '8': 'Harbour Song' } })).toEqual({
    'd.vessel': { '7': 'Grey Pilgrim', '8': 'Harbour Song' },
  });
});
