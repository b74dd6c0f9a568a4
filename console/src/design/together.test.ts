import { expect, test } from 'vitest';
import { together } from './together';

test('What two change of a text at different places is in it, and what both change is nobody’s to say', () => {
  let seed = 20261130;
  const below = (n: number) => {
    seed = (seed * 48271) % 0x7fffffff;
    return seed % n;
  };
  let [both, neither] = [0, 0];
  for (let round = 0; round < 2_000; round++) {
    // Lines that repeat, as in definitions: a change is not always found where it was made.
    const lines = Array.from({ length: 1 + below(9) }, () => 'abc'[below(3)] as string);
    const at = (who: string) => {
      const from = below(lines.length + 1);
      const to = from + below(lines.length - from + 1);
      return { from, to, put: Array.from({ length: below(3) }, (_, i) => `${who}${i}`) };
    };
    const change = (text: string[], { from, to, put }: ReturnType<typeof at>) => [
      ...text.slice(0, from),
      ...put,
      ...text.slice(to),
    ];
    const [one, other] = [at('one '), at('other ')];
    const [mine, theirs] = [change(lines, one).join('\n'), change(lines, other).join('\n')];
    const made = together(lines.join('\n'), theirs, mine);
    expect(together(lines.join('\n'), mine, theirs)).toBe(made);
    expect(together(lines.join('\n'), lines.join('\n'), mine)).toBe(mine);
    expect(together(lines.join('\n'), mine, mine)).toBe(mine);
    if (one.put.length === 0 || other.put.length === 0) continue;
    // New lines tell where each change is: they apart, the later is made first.
    const [low, high] = one.from < other.from ? [one, other] : [other, one];
    if (low.to < high.from) {
      both++;
      expect(made).toBe(change(change(lines, high), low).join('\n'));
    } else {
      neither++;
      expect(made).toBeUndefined();
    }
  }
  expect(Math.min(both, neither)).toBeGreaterThan(200);
});
