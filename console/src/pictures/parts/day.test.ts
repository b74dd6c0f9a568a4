import { expect, test } from 'vitest';
import { readDay } from './day';

test('A day is read as it is written on the page and as ISO has it, and what is none is none', () => {
  for (const text of ['3 Feb 2025', '03 february 2025', ' 2025-02-03 ', '2025-2-3', '3. Feb 2025'])
    expect(readDay(text), text).toBe('2025-02-03');
  for (const text of ['', '30 Feb 2025', '2025-13-01', '3 Foo 2025', '02/03/2025', '2025-02', '3 Feb'])
    expect(readDay(text), text).toBeNull();
});
