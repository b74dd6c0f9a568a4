import { expect, test } from 'vitest';
import { periodsBetween } from './periods';

test.each([
  ['month', '2024-01-01', '2024-03-01', 3],
  ['quarter', '2023-10-01', '2024-04-01', 3],
  ['week', '2024-02-26', '2024-03-11', 3],
  ['day', '2024-02-28', '2024-03-01', 3],
  ['year', '2022-01-01', '2024-01-01', 3],
  ['hour', '2024-01-01T22:00:00', '2024-01-02T00:00:00', 3],
])('Periods by %s from %s to %s', (grain, from, to, count) => {
  const all = periodsBetween(from, to, grain);
  expect(all?.length).toBe(count);
  expect(all?.[count - 1]).toBe(to);
});
