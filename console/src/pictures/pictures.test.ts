import { expect, test } from 'vitest';
import { pictureOf } from '.';

test('A kind that is newer than the page is no control, has data, and says what to do', async () => {
  const kind = pictureOf({ picture: 'of-tomorrow' });
  expect([kind.isControl, kind.hasData, kind.saysEmpty]).toEqual([false, true, true]);
  await expect(kind.load()).resolves.toHaveProperty('default');
});
