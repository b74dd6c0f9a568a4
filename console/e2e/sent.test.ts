import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { Demo, figure, picked, pickOf, settled, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

/** A figure that is told beside the month before is that of the newest month. */
const inNewestMonth = (column: string, table: string) =>
  `date_trunc('month', s.${column}) = (SELECT max(date_trunc('month', ${column})) FROM ${table})`;

test('A finding is handed on as a link, as figures and as a file, and the three reports go out to each with their own', {
  timeout: 900_000,
}, async () => {
  // The desk of the north ports finds something, and hands it on.
  const { page, context } = await demo.as('north-ports', '/d/tickets');
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await settled(page);
  await tile(page, 'channel').getByRole('combobox').click();
  await page.getByRole('option', { name: /^web/ }).click();
  await expect.poll(() => picked(page)).toContain('web');
  await settled(page);
  const soldAt = async (terminals: string) => {
    const where = `${terminals} AND s.channel = 'web' AND ${inNewestMonth('sold_on', 'ticket_sale')}`;
    const [[count] = []] = await demo.sql(
      `SELECT sum(s.tickets)::INTEGER FROM ticket_sale s JOIN terminal t ON t.id = s.terminal_id WHERE ${where}`,
    );
    return Number(count);
  };
  const sold = await soldAt("t.code IN ('SKE', 'ULL', 'QUI')");
  await expect.poll(() => figure(page, 'sold')).toBe(sold);
  await page.getByRole('button', { name: 'Take along as a file' }).click();
  const dialog = page.getByRole('dialog', { name: 'Take along' });
  const copies = dialog.getByRole('group', { name: 'Copy it into a message' });
  const clipboard = () => page.evaluate(() => navigator.clipboard.readText());
  await copies.getByRole('button', { name: 'the link' }).click();
  await copies.getByText('The link is in the clipboard.').waitFor();
  const link = await clipboard();
  await copies.getByRole('button', { name: 'its figures as text' }).click();
  await copies.getByText('The text is in the clipboard.').waitFor();
  expect(await clipboard()).toContain(sold.toLocaleString('en-US'));
  await dialog.getByRole('combobox', { name: 'As' }).click();
  await page.getByRole('option', { name: 'PDF' }).click();
  const coming = page.waitForEvent('download');
  await dialog.getByRole('button', { name: 'Make the file' }).click();
  expect(
    readFileSync(await (await coming).path())
      .subarray(0, 5)
      .toString(),
  ).toBe('%PDF-');
  await context.close();

  // Who opens the link has the same state, and their own rows.
  const other = await demo.as('director', link.slice(demo.url.length));
  await settled(other.page);
  expect(pickOf(other.page)).toEqual({ channel: { members: [['web']] } });
  expect(await figure(other.page, 'sold')).toBe(await soldAt('true'));
  await other.context.close();

  // Who looks after the reports sends all three at once.
  const { page: developer } = await demo.as('developer');
  const became = async (title: string) => {
    await developer.getByRole('button', { name: `Sending: ${title}` }).click();
    const sending = developer.getByRole('dialog', { name: title });
    await sending.getByRole('button', { name: 'Send it to all of them now' }).click();
    const runs = sending.getByRole('region', { name: 'What became of it' });
    await runs.getByText(/, by hand: sent/).waitFor();
    const all = (await runs.getByRole('listitem').allTextContents()).map((t) => t.trim()).sort();
    await developer.keyboard.press('Escape');
    await sending.waitFor({ state: 'detached' });
    return all;
  };
  expect(await became('The morning watch')).toEqual(['Developer: sent', 'Director: sent']);
  expect(await became('A route runs late')).toContain('North ports: the condition does not hold');
  expect(await became('Sales of a terminal')).toContain('North ports: sent');

  // What came says what it is, and leads to where it is live, in its state.
  const box = await (await demo.context()).newPage();
  await box.goto(demo.mail);
  await expect.poll(() => box.getByRole('row', { name: /north-ports@/ }).count()).toBe(1);
  await box
    .getByRole('row', { name: /director@.*The morning watch/ })
    .getByRole('link')
    .click();
  await box.getByRole('link', { name: /^morning-watch-.*\.pdf$/ }).waitFor();
  const letter = box.frameLocator('iframe');
  await letter.getByText('Sea area: Lantern Sound (picked on Sea area)').waitFor();
  const live = await letter.getByRole('link', { name: 'Open it live' }).getAttribute('href');
  const { page: director } = await demo.as('director', String(live).slice(demo.url.length));
  await settled(director);
  await expect.poll(() => picked(director)).toContain('Lantern Sound');
  const there = `r.sea_area = 'Lantern Sound' AND ${inNewestMonth('departed_at', 'sailing')}`;
  expect(await figure(director, 'sailings')).toBe(await demo.sailings(there));
});
