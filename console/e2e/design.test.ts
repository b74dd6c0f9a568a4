import { afterAll, beforeAll, expect, test } from 'vitest';
import { Demo, figure, seriousFaults, settled, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

test('From a dataset to a page whose tiles filter each other: begun, changed in its text, mended, published with a reason, looked up and taken back', async () => {
  const { page } = await demo.as('developer');
  await page.getByRole('button', { name: 'New dashboard' }).click();
  await page.getByLabel('Title').fill('Harbour life');
  await page.getByPlaceholder('Choose a dataset').click();
  await page.getByRole('option', { name: 'Sailings' }).click();
  await page.getByRole('button', { name: 'Begin the draft' }).click();
  await page.waitForURL('**/d/harbour-life/design');
  await settled(page);
  await expect.poll(() => figure(page, 'sailings')).toBe(await demo.sailings('true'));
  // What it begins with filters each other.
  await tile(page, 'table')
    .getByRole('row', { name: /^South Deep/ })
    .click();
  await expect.poll(() => figure(page, 'sailings')).toBe(await demo.sailings("r.sea_area = 'South Deep'"));
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  // The page follows the text; while the text is broken it stays, and what is wrong is told at its place.
  await page.getByText('As text').click();
  const text = page.getByRole('textbox', { name: 'Text of harbour-life' });
  const state = page.locator('[data-draft]');
  await text.click();
  await page.keyboard.press('Control+End');
  await page.keyboard.insertText('        nonsense: yes\n');
  const found = page.getByRole('status', { name: 'What the check found' });
  await found.getByText('There is no key nonsense here.').waitFor();
  expect(await page.getByRole('button', { name: 'Publish …' }).isDisabled()).toBe(true);
  expect(await tile(page, 'table').count()).toBe(1);
  await page.keyboard.press('Control+z');
  await found.getByText('No fault.').waitFor();
  await page.keyboard.press('Control+End');
  await page.keyboard.insertText('        title: All seas\n');
  await tile(page, 'table').getByText('All seas').waitFor();
  // Undone and done again, step by step, as the service has it.
  await page.getByRole('button', { name: 'Undo' }).click();
  await tile(page, 'table').getByText('All seas').waitFor({ state: 'detached' });
  await page.getByRole('button', { name: 'Redo' }).click();
  await tile(page, 'table').getByText('All seas').waitFor();
  // Nobody else has it, and it is still there on another visit.
  const { page: other } = await demo.as('director');
  expect(await other.getByText('Harbour life').count()).toBe(0);
  await expect.poll(() => state.getAttribute('data-draft')).toBe('saved');
  await page.goto(`${demo.url}/`);
  await page.getByRole('heading', { name: 'Your drafts' }).waitFor();
  await page.getByRole('link', { name: /harbour-life/ }).click();
  await settled(page);
  await page.getByRole('button', { name: 'Publish …' }).click();
  await page.getByLabel('Why').fill('For the harbour masters');
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await page.getByRole('button', { name: 'Publish', exact: true }).click();
  await page.waitForURL('**/d/harbour-life');
  await settled(page);
  await other.reload();
  await other.getByRole('link', { name: /Harbour life/ }).waitFor();
  // A later change is another draft; the version before is held against it and taken back.
  await page.getByRole('link', { name: 'Design' }).click();
  await page.waitForURL('**/design');
  await settled(page);
  await page.getByText('As text').click();
  await text.click();
  await page.keyboard.press('Control+End');
  await page.keyboard.insertText('        description: Of late\n');
  await expect.poll(() => state.innerText()).toBe('Draft saved');
  await page.getByRole('button', { name: 'History' }).click();
  await page.getByRole('button', { name: /For the harbour masters/ }).click();
  const difference = page.getByLabel(/^From version \d+ to the draft/);
  await difference.getByText('description: Of late').waitFor();
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  // In pictures, too; and as a page that works and changes nothing.
  await page.getByText('In pictures').click();
  const pictures = page.getByRole('region', { name: 'What changes in pictures' });
  await pictures.getByText(/Changed: description/).waitFor();
  await pictures.getByText(/^Version \d+$/).waitFor();
  await pictures.getByText('In the draft').waitFor();
  const opened = page.context().waitForEvent('page');
  await page.getByRole('link', { name: /^Look at version/ }).click();
  const earlier = await opened;
  await settled(earlier);
  await earlier.getByText(/^This is version \d+/).waitFor();
  expect(await earlier.getByRole('button', { name: 'Lay out' }).count()).toBe(0);
  await expect.poll(() => seriousFaults(earlier)).toEqual([]);
  await earlier.close();
  await page.getByText('Line by line').click();
  await page.getByRole('button', { name: /^Take version/ }).click();
  await expect.poll(() => text.innerText()).not.toContain('Of late');
  await expect.poll(() => state.innerText()).toBe('Draft saved');
  expect(await page.getByRole('button', { name: 'Publish …' }).isDisabled()).toBe(true);
});

test('A step asks for the figures that it changes, and for no others', async () => {
  const { page } = await demo.as('developer', '/d/tickets/design');
  await settled(page);
  const asked: string[] = [];
  page.on('request', (r) => {
    if (r.url().endsWith('/results')) asked.push(...(r.postDataJSON() as { tiles: string[] }).tiles);
  });
  await tile(page, 'sold-by-terminal')
    .getByRole('button', { name: /^Design / })
    .click();
  const form = page.getByRole('region', { name: 'Design of sold-by-terminal' });
  await form.getByLabel('Title').fill('Sold where');
  await form.getByLabel('Title').press('Enter');
  await tile(page, 'sold-by-terminal').getByRole('heading', { name: 'Sold where' }).waitFor();
  await settled(page);
  await page.getByRole('button', { name: 'Undo', exact: true }).first().click();
  await tile(page, 'sold-by-terminal').getByRole('heading', { name: 'Sold where' }).waitFor({ state: 'detached' });
  await settled(page);
  expect(new Set(asked)).toEqual(new Set(['sold-by-terminal']));
});

test('What two windows type at different lines is put together, at the same it is told and nothing overwritten; names that exist are offered', async () => {
  const { page } = await demo.as('developer', '/d/tickets/design');
  await settled(page);
  const second = await page.context().newPage();
  await second.goto(page.url());
  await settled(second);
  const textOf = (p: typeof page) => p.getByRole('textbox', { name: 'Text of tickets' });
  for (const p of [page, second]) await p.getByText('As text').click();
  const type = async (p: typeof page, key: string, text: string) => {
    await textOf(p).click();
    await p.keyboard.press(key);
    await p.keyboard.insertText(text);
  };
  const saved = (p: typeof page) => expect.poll(() => p.locator('[data-draft]').innerText()).toBe('Draft saved');
  await type(second, 'Control+End', '# last\n');
  await saved(second);
  await type(page, 'Control+Home', '# first\n');
  const Authorization = await demo.authorization('developer');
  const stored = async () => {
    const answer = await fetch(`${demo.url}/api/drafts/dashboards/tickets`, { headers: { Authorization } });
    return ((await answer.json()) as { text: string }).text;
  };
  // Far below, the editor writes out no lines: what is there is what is stored from there.
  await expect.poll(stored).toMatch(/^# first\n.*# last\n$/s);
  await saved(page);
  // What is typed while a step is on its way is beside it.
  let letGo: () => void = () => undefined;
  const held = new Promise<void>((resolve) => {
    letGo = resolve;
  });
  await page.route('**/api/drafts/dashboards/tickets/undo', async (route) => {
    await held;
    await route.continue();
  });
  const sent = page.waitForRequest('**/api/drafts/dashboards/tickets/undo');
  await page.getByRole('region', { name: 'The design' }).getByRole('button', { name: 'Undo', exact: true }).click();
  await sent;
  await type(page, 'Control+End', '# while\n');
  letGo();
  await expect.poll(stored).toMatch(/^(?!# first).*# last\n# while\n$/s);
  await saved(page);
  await type(page, 'Control+Home', '# first\n');
  await saved(page);
  await type(second, 'Control+Home', '# second\n');
  await second.getByText('This draft was changed in another window.').waitFor();
  await expect.poll(() => seriousFaults(second)).toEqual([]);
  await second.getByRole('button', { name: 'Load it anew' }).click();
  await expect.poll(() => textOf(second).innerText()).toContain('# first');
  expect(await textOf(second).innerText()).not.toContain('# second');
  // Fields, measures and kinds of pictures by where one is.
  await textOf(second).click();
  await second.keyboard.press('Control+End');
  const offered = second.locator('.cm-tooltip-autocomplete');
  await second.keyboard.type('        by: sold');
  await offered.getByText('sold.quarter').waitFor();
  await second.keyboard.press('Escape');
  // Keys are offered where a tile has them, and say what they are for under the pointer.
  await second.keyboard.type('\ndri');
  await offered.getByText('drives:').waitFor();
  await second.keyboard.press('Escape');
  await textOf(second)
    .locator('.cm-line')
    .filter({ hasText: 'place: {' })
    .last()
    .hover({ position: { x: 90, y: 8 } });
  await second
    .locator('.cm-tooltip-hover')
    .getByText(/^Where it stands/)
    .waitFor();
});

test('What others published meanwhile is taken in; where both changed a line it is asked whose stays', async () => {
  const { page } = await demo.as('developer', '/d/network/design');
  await settled(page);
  const Authorization = await demo.authorization('developer');
  const fileOf = async () => {
    const answer = await fetch(`${demo.url}/api/drafts/dashboards/network`, { headers: { Authorization } });
    return ((await answer.json()) as { published: string }).published;
  };
  const published = await fileOf();
  const title = page.getByLabel('Title', { exact: true });
  await title.fill('The network of isles');
  await title.press('Enter');
  await page.getByRole('heading', { name: 'The network of isles' }).waitFor();
  // Somebody publishes another title, and a line elsewhere.
  const put = await fetch(`${demo.url}/api/definitions/file`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json', Authorization },
    body: JSON.stringify({
      path: 'dashboards/network.yaml',
      text: `${published.replace(/^title: .*$/m, 'title: The whole network')}# theirs\n`,
      replace: true,
    }),
  });
  expect(put.ok).toBe(true);
  await page.reload();
  await settled(page);
  await page.getByRole('button', { name: 'Take it into the draft' }).click();
  const dialog = page.getByRole('dialog', { name: 'Lines that both of you changed' });
  await dialog.getByText('title: The whole network').waitFor();
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  expect(await dialog.getByRole('button', { name: 'Take them in' }).isDisabled()).toBe(true);
  await dialog.getByText('Yours stays').click();
  await dialog.getByRole('button', { name: 'Take them in' }).click();
  await page.getByRole('button', { name: 'Take it into the draft' }).waitFor({ state: 'detached' });
  await page.getByRole('button', { name: 'Publish …' }).click();
  await page.getByRole('button', { name: 'Publish', exact: true }).click();
  await page.waitForURL('**/d/network');
  await settled(page);
  expect(await fileOf()).toBe(`${published.replace(/^title: .*$/m, 'title: The network of isles')}# theirs\n`);
});

test('A draft is seen as another viewer has it, on a phone and in the dark, with each of its steps', async () => {
  const { page } = await demo.as('developer');
  await page.goto(`${demo.url}/d/network/design`);
  await settled(page);
  await page.getByRole('button', { name: 'As others have it' }).click();
  const choose = async (what: string, option: RegExp) => {
    await page.getByRole('combobox', { name: what }).click();
    await page.getByRole('option', { name: option }).click();
  };
  const seen = page.frameLocator('iframe[title="The page as others have it"]');
  const sailings = async () =>
    Number((await seen.locator('[data-tile="all-sailings"] [data-figure]').innerText()).replaceAll(',', ''));
  await expect.poll(sailings).toBe(await demo.sailings('true'));
  await choose('Whose rows and rights', /^Skerrin desk/);
  await expect.poll(sailings).toBe(await demo.sailings("r.home_port = 'SKE'"));
  await choose('Screen', /^Phone/);
  await choose('Look', /^Dark/);
  const width = () => seen.locator('body').evaluate((body) => [window.innerWidth, getComputedStyle(body).colorScheme]);
  await expect.poll(width).toEqual([390, 'dark']);
  await expect.poll(sailings).toBe(await demo.sailings("r.home_port = 'SKE'"));
  // The design beside it goes on as it was, and each of its steps is seen there too.
  await page.getByLabel('Title', { exact: true }).fill('The network as seen');
  await page.getByLabel('Title', { exact: true }).press('Enter');
  await seen.getByRole('heading', { name: 'The network as seen' }).waitFor();
  expect(await page.evaluate(() => getComputedStyle(document.body).colorScheme)).not.toBe('dark');
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await page.getByRole('button', { name: 'Back to the design' }).click();
  await settled(page);
  expect(await figure(page, 'all-sailings')).toBe(await demo.sailings('true'));
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(() => page.locator('[data-draft]').innerText()).toBe('Draft saved');
});

test('Who may not publish finds no way to designing, and its address tells them nothing', async () => {
  const { page } = await demo.as('director', '/d/tickets');
  await settled(page);
  expect(await page.getByRole('link', { name: 'Design' }).count()).toBe(0);
  await page.goto(`${demo.url}/d/tickets/design`);
  await page
    .getByRole('alert')
    .getByText(/see drafts of/)
    .waitFor();
});

test('A draft is drawn on a sample where that is wanted, says so, and is drawn on all rows again', async () => {
  const { page } = await demo.as('developer', '/d/punctuality/design');
  await settled(page);
  const sample = page.getByRole('button', { name: 'On a sample' });
  await sample.click();
  await page.getByText('Of a sample of 10 % of the rows.').first().waitFor();
  await settled(page);
  const all = await demo.sailings('true');
  const counted = await figure(page, 'counted');
  expect(counted).toBeGreaterThan(all / 20);
  expect(counted).toBeLessThan(all / 5);
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await sample.click();
  await page.getByText('Of a sample of 10 % of the rows.').first().waitFor({ state: 'detached' });
  await settled(page);
  await expect.poll(() => figure(page, 'counted')).toBe(all);
});
