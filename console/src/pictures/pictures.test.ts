import { expect, test } from 'vitest';
import { pictureOf } from '.';

test('A kind that is newer than the page is no control, and says what to do', async () => {
  const kind = pictureOf({ picture: 'of-tomorrow' });
  expect([kind.isControl, kind.saysEmpty]).toEqual([false, true]);
  await expect(kind.load()).resolves.toHaveProperty('default');
});
