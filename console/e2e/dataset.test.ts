import { afterAll, beforeAll, expect, test } from 'vitest';
import { Demo, figure, seriousFaults, settled } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

test('A measure by formula: tried on real rows, mended where it was wrong, added to the file, published and drawn', async () => {
  const { page } = await demo.as('developer', '/data');
  await page.locator('summary', { hasText: 'Sailings' }).click();
  await page.getByRole('link', { name: 'Change Sailings' }).click();
  await page.getByRole('heading', { name: 'Sailings', level: 1 }).waitFor();
  const all = await demo.sailings('true');
  await page.getByText(`${all.toLocaleString('en-US')} rows`).waitFor();
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);

  await page.getByRole('button', { name: 'New measure' }).click();
  await page.getByLabel('Title').fill('Late in all');
  const formula = page.getByRole('textbox', { name: 'Formula of late_in_all' });
  await formula.click();
  await page.keyboard.insertText('count(*) filter (where lat)');
  await page.getByText('There is no field or measure lat. Did you mean late?').first().waitFor();
  expect(await page.getByRole('button', { name: 'Add the measure' }).isDisabled()).toBe(true);
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.insertText('e');
  // What it gives, by the field that is chosen.
  const late = await demo.sailings('delay_min > 10');
  const given = page.getByRole('group', { name: 'What it gives' });
  await given.getByText(`integer, over all rows ${late.toLocaleString('en-US')}`).waitFor();
  await page.getByRole('combobox', { name: 'Shown by' }).click();
  await page.getByRole('option', { name: 'by Sea area' }).click();
  const south = await demo.sailings("delay_min > 10 AND r.sea_area = 'South Deep'");
  await given.getByRole('row', { name: new RegExp(`South Deep.*${south.toLocaleString('en-US')}`) }).waitFor();
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await page.getByRole('button', { name: 'Add the measure' }).click();
  const form = page.getByRole('region', { name: 'The measure late_in_all' });
  await form.waitFor();
  await form.getByLabel('format').first().fill('integer');
  await form.getByLabel('format').first().blur();

  // The text says just that, and what is left of it is as it was.
  const Authorization = await demo.authorization('developer');
  const draft = async () =>
    (await (await fetch(`${demo.url}/api/drafts/datasets/sailings`, { headers: { Authorization } })).json()) as {
      text: string;
      published: string;
    };
  const line = '  late_in_all: { formula: count(*) filter (where late), title: Late in all, format: integer }\n';
  await expect.poll(async () => (await draft()).text.includes('format: integer }\n')).toBe(true);
  const { text, published } = await draft();
  expect(text).toBe(published + line);

  // What is written of a formula and not kept is asked about.
  await page.getByRole('textbox', { name: 'Formula of late_in_all' }).click();
  await page.keyboard.press('Control+End');
  await page.keyboard.insertText(' + 1');
  await page.getByRole('button', { name: 'All fields and measures' }).click();
  await page.getByRole('alert').getByText('The formula that you wrote is not kept.').waitFor();
  await page.getByRole('button', { name: 'Leave without it' }).click();

  // Taken out, what needs a measure is told; a step back brings it again.
  await page.getByRole('button', { name: /^Income/ }).click();
  await page.getByRole('button', { name: 'Take it out' }).click();
  const found = page.getByRole('status', { name: 'What the check found' });
  await found
    .getByText(/dashboards\/.*no measure income/)
    .first()
    .waitFor();
  expect(await page.getByRole('button', { name: 'Publish …' }).isDisabled()).toBe(true);
  await page.getByRole('button', { name: 'Undo' }).click();
  await found.getByText('Nothing uses late_in_all of sailings.').waitFor();

  // As text, with what the file knows.
  await page.getByText('As text').click();
  const editor = page.getByRole('textbox', { name: 'Text of sailings' });
  await editor.click();
  await page.keyboard.press('Control+End');
  await page.keyboard.insertText('  half: { formula: "fare');
  // The text is none while a brace is open, and has its names still.
  await page.getByText('The rows stay as they were before the fault.').waitFor();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+Space');
  await page.locator('.cm-tooltip-autocomplete').getByText('fares', { exact: true }).waitFor();
  await page.keyboard.press('Escape');
  // Two spaces before a line go with one key.
  for (let i = 0; i < 23; i++) await page.keyboard.press('Backspace');
  await page.keyboard.insertText('  # For the morning board.\n');
  await expect.poll(async () => (await draft()).text).toBe(`${text}  # For the morning board.\n`);

  // It is another visit's too, and when it is published tiles have it.
  await page.goto(`${demo.url}/data`);
  await page.getByRole('link', { name: 'Sailings', exact: true }).click();
  await page.getByRole('button', { name: 'Publish …' }).click();
  await page.getByLabel('Why').fill('The morning board counts them');
  await page.getByRole('button', { name: 'Publish', exact: true }).click();
  await page.waitForURL('**/data');
  await page.goto(`${demo.url}/`);
  await page.getByRole('button', { name: 'New dashboard' }).click();
  await page.getByLabel('Title').fill('Morning board');
  await page.getByRole('combobox', { name: 'It begins with' }).click();
  await page.getByRole('option', { name: 'An empty page' }).click();
  await page.getByRole('button', { name: 'Begin the draft' }).click();
  await page.waitForURL('**/d/morning-board/design');
  await page.getByRole('button', { name: 'New tile' }).click();
  await page.getByRole('combobox', { name: 'Measures and fields of' }).click();
  await page.getByRole('option', { name: 'Sailings' }).click();
  await page.getByRole('dialog').locator('[data-field="late_in_all"]').click();
  await page.getByRole('button', { name: 'Take this number' }).click();
  await page.getByRole('dialog').waitFor({ state: 'detached' });
  await settled(page);
  const [made] = await page
    .locator('[data-tile]')
    .evaluateAll((all) => all.map((t) => (t as HTMLElement).dataset.tile));
  await expect.poll(() => figure(page, made ?? '')).toBe(late);
});

test('A measure and a dashboard have other names wherever they are named, also in what a viewer arranged', async () => {
  const director = await demo.client('director');
  const drawn = { edit: 'draw', tile: 'sold-by-terminal', drawing: { show: ['takings'] } };
  expect((await director('/api/dashboards/tickets/view/edits', drawn)).status).toBe(200);
  const { page } = await demo.as('developer', '/data');
  await page.goto(`${demo.url}/data/tickets/change`);
  await page
    .getByRole('button', { name: /^Takings/ })
    .first()
    .click();
  await page.getByRole('button', { name: 'Another name for takings …' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('New name').fill('channel');
  await dialog.getByText('There is a field or measure channel already.').waitFor();
  expect(await dialog.getByRole('button', { name: 'Publish the new name' }).isDisabled()).toBe(true);
  await dialog.getByLabel('New name').fill('paid');
  await dialog.getByText(/places in 4 files, and one view of viewers/).waitFor();
  await dialog.locator('summary', { hasText: 'dashboards/tickets.yaml' }).click();
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await dialog.getByLabel('Why').fill('As the office calls it');
  await dialog.getByRole('button', { name: 'Publish the new name' }).click();
  await dialog.waitFor({ state: 'detached' });
  const developer = await demo.client('developer');
  const text = async (draft: string) =>
    ((await (await developer(`/api/drafts/${draft}`)).json()) as { text: string }).text;
  expect(await text('datasets/tickets')).toContain('\n  paid: ');
  expect(await text('dashboards/tickets')).not.toContain('show: takings');
  const { page: viewer } = await demo.as('director', '/d/tickets');
  await settled(viewer);
  const arranged = viewer.locator('[data-tile="sold-by-terminal"]');
  await arranged.getByText('Takings by terminal').first().waitFor();

  await page.goto(`${demo.url}/d/tickets/design`);
  await settled(page);
  await page.getByRole('button', { name: 'Another name …' }).click();
  await dialog.getByLabel('New name').fill('fares');
  await dialog.getByText('dashboards/tickets.yaml becomes dashboards/fares.yaml').waitFor();
  // What did not come into the team's folder is told.
  const told = 'dashboards/fares.yaml is not written into the team’s folder.';
  await page.route('**/api/renames', async (route) => {
    const response = await route.fetch();
    await route.fulfill({ response, json: { ...(await response.json()), beside: [told] } });
  });
  await dialog.getByRole('button', { name: 'Publish the new name' }).click();
  await page.waitForURL('**/d/fares/design');
  await settled(page);
  await page.getByText(told).waitFor();
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await viewer.goto(`${demo.url}/d/fares`);
  await settled(viewer);
  await arranged.getByText('Takings by terminal').first().waitFor();
});

test('A query by hand: written beside the tables of its source, read for its columns, kept in the text', async () => {
  const call = await demo.client('developer');
  const text = `dataset: tills
source: ferries
query: |
  SELECT amount FROM ticket_sale
fields:
  amount: { column: amount, type: decimal } # as it was paid
measures:
  taken: { formula: sum(amount) }
`;
  const Authorization = await demo.authorization('developer');
  const stored = await fetch(`${demo.url}/api/definitions/file`, {
    method: 'PUT',
    headers: { Authorization, 'Content-Type': 'application/json' },
    body: JSON.stringify({ path: 'datasets/tills.yaml', text, replace: false }),
  });
  expect(stored.status).toBe(200);
  const { page } = await demo.as('developer', '/data');
  await page.goto(`${demo.url}/data/tills/change`);
  await page.getByText('Its query, beside the tables of its source').click();
  const sql = page.getByRole('textbox', { name: 'SQL' });
  await sql.click();
  // Before FROM: the name of a column is written by a click on it.
  await page.keyboard.press('Control+Home');
  for (let i = 0; i < 'SELECT '.length; i++) await page.keyboard.press('ArrowRight');
  await page.getByRole('textbox', { name: 'Search tables' }).fill('ticket');
  await page.getByRole('button', { name: /^Columns of .*ticket_sale$/ }).click();
  const columns = page.getByRole('list', { name: 'Columns of ticket_sale' });
  const values = columns.getByText(/VARCHAR: .*web/);
  // A source that has no time says so, and is asked again.
  do {
    await page.getByRole('button', { name: 'Show some values of ticket_sale' }).click();
    await values.or(page.getByRole('alert')).first().waitFor();
  } while (!(await values.isVisible()));
  await columns.getByRole('button', { name: /^channel/ }).click();
  await page.keyboard.insertText(', ');
  await expect.poll(() => sql.innerText()).toContain('SELECT channel, amount FROM ticket_sale');
  await page.getByRole('button', { name: 'Read its columns' }).click();
  const read = page.getByRole('list', { name: 'Columns of the query' });
  expect(await read.getByRole('button', { name: /^amount/ }).isDisabled()).toBe(true);
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await page.getByRole('button', { name: 'Keep the query' }).click();
  const draft = async () => ((await (await call('/api/drafts/datasets/tills')).json()) as { text: string }).text;
  await expect.poll(draft).toContain('query: |\n  SELECT channel, amount FROM ticket_sale\n');
  await read.getByRole('button', { name: /^channel/ }).click();
  await expect
    .poll(draft)
    .toBe(
      text
        .replace('SELECT amount', 'SELECT channel, amount')
        .replace('# as it was paid\n', '# as it was paid\n  channel: { column: channel }\n'),
    );
});
