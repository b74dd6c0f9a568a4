import { afterAll, beforeAll, expect, test } from 'vitest';
import { Demo, seriousFaults, settled, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

/** The text of somebody's draft. */
async function textOf(kind: string, name: string): Promise<string> {
  const Authorization = await demo.authorization('developer');
  const answer = await fetch(`${demo.url}/api/drafts/${kind}/${name}`, { headers: { Authorization } });
  return ((await answer.json()) as { text: string }).text;
}

test('In the wiring picture a frame lays a group around tiles, and what would link data that no field links is said', async () => {
  const { page } = await demo.as('developer');
  await page.goto(`${demo.url}/d/tickets/design`);
  await settled(page);
  const [left, right] = ['sold', 'takings'].map((n) => tile(page, n));
  const boxes = await Promise.all([left, right].map((t) => t?.boundingBox()));
  const [a, b] = boxes as [
    { x: number; y: number; height: number },
    { x: number; width: number; y: number; height: number },
  ];
  await page.keyboard.press('w');
  await page.locator('[data-wire="sold"]').waitFor();
  // From the gap above the tiles to the one below them.
  await page.mouse.move(a.x - 6, a.y - 6);
  await page.mouse.down();
  await page.mouse.move(b.x + b.width / 2, b.y + b.height / 2);
  await page.locator('[data-frame]').waitFor();
  await page.mouse.move(b.x + b.width + 4, b.y + b.height + 4);
  await page.mouse.up();
  await page.getByText('2 tiles are the group group').waitFor();
  const text = await textOf('dashboards', 'tickets');
  expect(text.match(/group: group$/gm)?.length).toBe(2);
  expect(text).toContain('groups: [{ group: group }]');

  // Channels are of tickets, and nothing that sailed has one.
  await page.locator('[data-wire="channel"]').focus();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'What would link channel to sailed …' }).click();
  const dialog = page.getByRole('dialog', { name: 'What links the two' });
  await dialog.getByRole('combobox').click();
  await page.getByRole('option', { name: 'Reason' }).click();
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await dialog.getByRole('button', { name: 'Write it into the datasets' }).click();
  await dialog.getByRole('link', { name: 'Look at the draft of sailings' }).waitFor();
  expect(await textOf('datasets', 'sailings')).toMatch(/reason: .*concept: channel/);
  expect(await textOf('datasets', 'tickets')).toMatch(/channel: .*concept: channel/);
});

test('A colour of a member and a way of writing numbers are chosen by what comes of them; what fields hold is shown', async () => {
  const { page } = await demo.as('developer', '/data');
  await page.goto(`${demo.url}/data/sailings/change`);
  await page.getByRole('button', { name: 'Reason sailing.cancel_reason' }).click();
  await page.getByText('Colours of its members').first().click();
  const crew = page.getByRole('textbox', { name: 'crew' });
  await crew.click();
  await page.getByRole('slider', { name: 'Hue' }).waitFor();
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  // Letter by letter: what it means on the way is not given, and nothing is taken out of one's hands.
  await crew.pressSequentially('#22308A');
  expect(await crew.inputValue()).toBe('#22308A');
  await page.getByRole('button', { name: 'No colour for crew' }).waitFor();
  await expect.poll(() => textOf('datasets', 'sailings')).toMatch(/reason: .*colours: \{ crew: "#22308A" \}/i);
  for (const [typed, then] of [
    ['#223', '#222233'],
    ['#22', '#222233'],
    ['', ''],
    ['#22308a', '#22308a'],
  ] as const) {
    await crew.fill(typed);
    await crew.press('Enter');
    await expect.poll(() => crew.inputValue()).toBe(then);
  }
  // The next one at once, before the one before has come back.
  const weather = page.getByRole('textbox', { name: 'weather', exact: true });
  await weather.fill('#8B8318');
  await weather.press('Enter');
  await expect
    .poll(() => textOf('datasets', 'sailings'))
    .toMatch(/reason: .*colours: \{ crew: "#22308A", weather: "#8B8318" \}/);
  await weather.fill('');
  await weather.press('Enter');
  await expect.poll(() => textOf('datasets', 'sailings')).toMatch(/reason: .*colours: \{ crew: "#22308A" \}/i);
  await crew.press('Tab');
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await page.getByRole('button', { name: 'All fields and measures' }).click();
  // Keys are chosen by their names.
  const [[id, vessel] = []] = await demo.sql(
    'SELECT v.id::INTEGER, v.name FROM sailing s JOIN vessel v ON v.id = s.vessel_id GROUP BY ALL ORDER BY count(*) DESC LIMIT 1',
  );
  await page.getByRole('button', { name: 'Vessel vessel.id' }).click();
  await page.getByText('Colours of its members').first().click();
  const colour = page.getByRole('textbox', { name: String(vessel), exact: true });
  await colour.fill('#8B8318');
  await colour.press('Tab');
  await expect
    .poll(() => textOf('datasets', 'sailings'))
    .toMatch(new RegExp(`vessel: .*colours: \\{ ["']?${id}["']?: "#8B8318" \\}`));
  await page.getByText('No fault.').waitFor();
  await page.getByRole('button', { name: 'All fields and measures' }).click();
  await page.getByRole('button', { name: /^Income sum/ }).click();
  const format = page
    .getByRole('combobox', { name: 'format' })
    .or(page.getByRole('textbox', { name: 'format' }))
    .first();
  await format.click();
  // Written: the list of ways, which says what comes of each, goes with its field where the page is moved, and is hidden then.
  await page.getByRole('option', { name: /12\.4 k/, includeHidden: true }).waitFor({ state: 'attached' });
  await format.fill('short 0.0');
  await format.press('Tab');
  await expect.poll(() => textOf('datasets', 'sailings')).toMatch(/income: .*format: "?short 0\.0/);

  await page.goto(`${demo.url}/d/network/design`);
  await settled(page);
  await page.getByRole('button', { name: 'New tile' }).click();
  await page.getByRole('button', { name: 'values of Class' }).click();
  await page.getByText('Islander').last().waitFor();
  await page.getByText('All, with their rows.').waitFor();
  await page.getByRole('button', { name: 'values of Delay' }).click();
  await page.getByText(/min to .* min/).waitFor();
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});

test('A table is looked up and its columns are fields with a click, with some of their values beside them', async () => {
  const { page } = await demo.as('developer', '/data');
  await page.goto(`${demo.url}/data/costs/change`);
  await page.getByText('Tables of its source, to add fields and lookups').click();
  await page.getByRole('list', { name: 'Columns of cost' }).getByText('a field').first().waitFor();
  await page.getByRole('combobox', { name: 'A table' }).click();
  await page.getByRole('option', { name: 'main.terminal', exact: true }).click();
  const columns = page.getByRole('list', { name: 'Columns of terminal' });
  await page.getByRole('button', { name: 'Show some of its values' }).click();
  await columns
    .getByText(/LAN|SKE|TOL/)
    .first()
    .waitFor();
  expect(await columns.getByRole('button').first().isDisabled()).toBe(true);
  await page.getByRole('textbox', { name: 'How a row finds its row of terminal' }).fill('cost.centre = terminal.code');
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await page.getByRole('button', { name: 'Look terminal up' }).click();
  await columns.getByRole('button', { name: /^name/ }).click();
  await expect.poll(() => textOf('datasets', 'costs')).toMatch(/name: +\{ column: terminal\.name \}/);
  const text = await textOf('datasets', 'costs');
  expect(text).toMatch(/joins:\n {2}- \{ table: terminal, on: cost\.centre = terminal\.code \}/);
  // Undone, there is no lookup any more.
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Look terminal up' }).waitFor();
});
