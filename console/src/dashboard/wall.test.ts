import { expect, test } from 'vitest';
import { readWall } from './wall';

test('An address says whether a dashboard is for a wall, and how it goes on there', () => {
  const of = (text: string) => readWall(new URLSearchParams(text));
  expect(of('tab=a')).toBeUndefined();
  expect(of('wall')).toEqual({ round: null, refresh: 60 });
  expect(of('wall=20&refresh=30')).toEqual({ round: 20, refresh: 30 });
  expect(of('wall=1&refresh=0')).toEqual({ round: 5, refresh: 5 });
  expect(of('wall=soon&refresh=-1')).toEqual({ round: null, refresh: 60 });
});
