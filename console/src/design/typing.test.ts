import { expect, test } from 'vitest';
import { Typing } from './typing';

/** Stores what was typed at a time after a step; the step it became, and whether it took the place of the one before. */
function store(typing: Typing, at: number, step: number, isBack = false): [number, boolean] {
  typing.typed(at, isBack);
  const joins = typing.sent(step);
  typing.stored(step + 1);
  return [step + 1, joins];
}

test('Who types on goes on with the step; who paused begins another', () => {
  const typing = new Typing();
  expect(store(typing, 0, 0)).toEqual([1, false]);
  expect(store(typing, 400, 1)).toEqual([2, true]);
  expect(store(typing, 1300, 2)).toEqual([3, true]);
  expect(store(typing, 2400, 3)).toEqual([4, false]);
  // A step that was made by hand, or gone back to, is not typed on.
  expect(store(typing, 2500, 7)).toEqual([8, false]);
});

test('What is taken back is a step of its own, and what is typed after it is another, however quickly', () => {
  const typing = new Typing();
  store(typing, 0, 0);
  expect(store(typing, 100, 1, true)).toEqual([2, false]);
  expect(store(typing, 200, 2)).toEqual([3, false]);
  expect(store(typing, 300, 3)).toEqual([4, true]);
  expect(store(typing, 5000, 4, true)).toEqual([5, false]);
  expect(store(typing, 5001, 5)).toEqual([6, false]);
});

test('What is typed after a pause while the text before is on its way begins another step', () => {
  const typing = new Typing();
  typing.typed(0, false);
  typing.sent(0);
  typing.typed(1500, false);
  typing.stored(1);
  expect(typing.sent(1)).toBe(false);
});
