import { afterAll, beforeAll, expect, test } from 'vitest';
import { Demo, seriousFaults, settled, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

test('A report is sent to all its readers, each with their own rows, and everybody finds what was sent to them', async () => {
  const { page } = await demo.as('developer');
  await page.getByRole('button', { name: 'Sending: Sales of a terminal' }).click();
  const dialog = page.getByRole('dialog', { name: 'Sales of a terminal' });
  await dialog.getByText('every month on day 1 at 06:00').waitFor();
  expect(await dialog.getByText(/^Next: /).textContent()).toMatch(/^Next: (\w{3},? 1 \w{3},? 06:00( · |$)){5}$/);
  const readers = dialog.getByRole('region', { name: 'To whom' }).getByRole('listitem');
  await expect
    .poll(() => readers.allTextContents())
    .toEqual([
      'Director by mail, director@lantern-isles.example',
      'North ports by mail, north-ports@lantern-isles.example',
      'The books of the company by folder, ledger',
    ]);
  await dialog.getByText('It was not sent yet.').waitFor();
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await dialog.getByRole('button', { name: 'Send it to all of them now' }).click();
  const became = dialog.getByRole('region', { name: 'What became of it' });
  await became.getByText(/, by hand: sent/).waitFor();
  expect((await became.getByRole('listitem').allTextContents()).map((t) => t.trim())).toEqual([
    'Director: sent',
    'North ports: sent',
    'The books of the company: sent',
  ]);
  // What came in is a message to each, with the file.
  const box = await (await demo.context()).newPage();
  await box.goto(demo.mail);
  await expect.poll(() => box.getByRole('row').count()).toBe(3);
  await box
    .getByRole('row', { name: /north-ports@/ })
    .getByRole('link')
    .click();
  const letter = box.frameLocator('iframe');
  await letter.getByRole('heading', { name: 'Sales of a terminal' }).waitFor();
  await letter.getByText('Of the rows that North ports may see').waitFor();
  // Whoever got it finds it again; the link in it leads to the dashboard.
  const { page: own } = await demo.as('north-ports');
  const sent = own.getByRole('list', { name: 'Sent to you' });
  await sent.getByText(/terminals-.*\.zip/).waitFor();
  await own.getByText(/Comes to you by mail every month on day 1 at 06:00/).waitFor();
  expect(await own.getByRole('button', { name: /^Sending/ }).count()).toBe(0);
  const coming = own.waitForEvent('download');
  await sent.getByRole('link', { name: /Sales of a terminal/ }).click();
  expect((await coming).suggestedFilename()).toMatch(/^terminals-.*\.zip$/);
});

test('A viewer has a dashboard sent to themselves as they see it, and ends it', async () => {
  const { page } = await demo.as('north-ports', '/d/tickets');
  await settled(page);
  await page.getByRole('button', { name: 'Take along as a file' }).click();
  const dialog = page.getByRole('dialog', { name: 'Take along' });
  await dialog.getByRole('combobox', { name: 'On which days' }).click();
  await page.getByRole('option', { name: 'Every weekday' }).click();
  await dialog.getByRole('combobox', { name: 'At what time' }).click();
  await page.getByRole('option', { name: '07:30' }).click();
  await dialog.getByRole('button', { name: 'Send it to me' }).click();
  await dialog.getByText(/It comes by mail every weekday at 07:30, first/).waitFor();
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await page.goto(`${demo.url}/`);
  const own = page.getByRole('list', { name: 'Sent to you' });
  await own.getByText(/every weekday at 07:30, in the state that you had, as pdf; next/).waitFor();
  await own.getByRole('button', { name: 'End it: Ticket sales, every weekday at 07:30' }).click();
  await own.getByText(/every weekday at 07:30/).waitFor({ state: 'detached' });
});

test('What a viewer writes about a tile is answered by who looks after the dashboard, who finds it in their list', async () => {
  const { page } = await demo.as('north-ports', '/d/tickets');
  await settled(page);
  await tile(page, 'routes')
    .getByRole('button', { name: /^Menu of/ })
    .click();
  await page.getByRole('menuitem', { name: 'Write about it' }).click();
  const dialog = page.getByRole('dialog', { name: 'Remarks on Routes' });
  await dialog.getByLabel('Write about Routes').fill('Where is the night boat?');
  await dialog.getByRole('button', { name: 'Write it' }).click();
  await dialog.getByRole('list', { name: 'Remarks' }).getByText('Where is the night boat?').waitFor();
  // Ticked once the service has it.
  await dialog.getByRole('checkbox', { name: /^Tell me by mail/ }).click();
  await expect.poll(() => dialog.getByRole('checkbox', { name: /^Tell me by mail/ }).isChecked()).toBe(true);
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  const { page: other } = await demo.as('developer');
  await other.getByRole('link', { name: '1 open remark' }).click();
  const all = other.getByRole('dialog', { name: 'Remarks on this dashboard' });
  await all.getByText('Where is the night boat?').waitFor();
  await all.getByRole('button', { name: 'Answer' }).click();
  await all.getByLabel('Your answer').fill('It sails from May.');
  await all.getByRole('button', { name: 'Send the answer' }).click();
  await all.getByText('It sails from May.').waitFor();
  await all.getByRole('button', { name: 'It is done' }).click();
  await all.getByText(/· done .*, Developer/).waitFor();
  const came = async () =>
    (await (await fetch(demo.mail)).text()).match(/Developer (answered|has done) what was written about Routes/g);
  await expect.poll(async () => (await came())?.length).toBe(2);
  await page.reload();
  await settled(page);
  await page.getByRole('button', { name: 'Remarks' }).click();
  await page.getByText('It sails from May.').waitFor();
});
