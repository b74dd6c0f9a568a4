import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { Demo, seriousFaults, settled, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

test('A group of a treemap picks all that is in it, a flow the pair that it joins, and both drive what follows', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=parts');
  await settled(page);
  const marks = (name: string) => tile(page, name).getByRole('option').allInnerTexts();
  const nested = tile(page, 'nested');
  await expect.poll(async () => (await marks('nested'))[0]).toMatch(/^[\w ]+ · [\w–]+: [\d,]+$/);
  // The largest group comes first; its head is at the top left.
  await nested.getByRole('img').click({ position: { x: 40, y: 8 } });
  await settled(page);
  const area = 'Lantern Sound';
  const stormy = (where: string) =>
    demo.sailings(`s.cancelled AND s.cancel_reason = 'weather' AND v.class = 'Islander' AND ${where}`);
  const expected = await stormy(`r.sea_area = '${area}'`);
  await expect.poll(() => marks('why')).toContain(`weather to Islander: ${expected.toLocaleString('en-US')}`);
  expect(await nested.getByRole('option', { selected: true }).count()).toBe(
    (await marks('nested')).filter((m) => m.startsWith(area)).length,
  );
  // The tickets follow by what the fields mean.
  await expect.poll(async () => (await marks('rings')).every((m) => m.startsWith(area))).toBe(true);
  await nested.getByRole('img').click({ position: { x: 40, y: 8 } });
  await expect.poll(() => nested.getByRole('option', { selected: true }).count()).toBe(0);

  // A flow by the keyboard, as any mark.
  const flow = (await marks('why')).findIndex((m) => m.startsWith('weather to Swift'));
  await tile(page, 'why').getByRole('listbox').focus();
  await page.keyboard.press('Home');
  for (let i = 0; i < flow; i++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Space');
  await settled(page);
  await expect.poll(() => tile(page, 'why').getByRole('option', { selected: true }).allInnerTexts()).toHaveLength(1);
  // Away from the picture, whose tip comes and goes by itself.
  await page.mouse.move(640, 60);
  // From under the header of the page, whose ground the check would take for theirs.
  await page.evaluate(() => window.scrollTo(0, 0));
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});

test('A line stands at the figure of a measure over all that a picture shows', async () => {
  const director = await demo.client('director');
  const answer = await director('/api/dashboards/atlas/results', { tiles: ['limit'] });
  const { references } = JSON.parse(await answer.text()) as { references: (number | null)[] };
  const [[mean]] = (await demo.sql('SELECT avg(delay_min) FROM sailing')) as [[number]];
  expect(references[0]).toBeNull();
  expect(references[1]).toBeCloseTo(Number(mean), 6);
});

test('A tip says the sentence of the developer, over the mark and to who reads the marks', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=spread');
  await settled(page);
  const [vessel, passengers, sailings] = (
    await demo.sql(
      'SELECT v.name, sum(s.passengers), count(*) FROM sailing s JOIN vessel v ON v.id = s.vessel_id GROUP BY 1 ORDER BY 1 LIMIT 1',
    )
  )[0] as [string, number, number];
  const said = (await tile(page, 'vessels').getByRole('option').allInnerTexts()).find((m) =>
    m.startsWith(`${vessel}, `),
  );
  expect(said).toContain(
    `; ${vessel} carried ${Number(passengers).toLocaleString('en-US')} on ${Number(sailings).toLocaleString('en-US')} sailings; `,
  );
  // What is only in a tip stands in its table too, for whoever asks by the command line.
  const head = (await tile(page, 'hours').getByRole('option').first().innerText()).split('; ')[1];
  expect(head).toMatch(/^Sailings [\d,]+, Mean delay [\d.]+ min$/);
});

test('Steps add up to what the measures say over all, and one that is picked drives', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=compare');
  await settled(page);
  const fuel = tile(page, 'fuel');
  const [[income, left]] = (await demo.sql(
    'SELECT sum(fare_income) + sum(cafe_income), sum(fare_income) + sum(cafe_income) - sum(fuel_cost) FROM sailing',
  )) as [[number, number]];
  const money = (v: number) => `${Math.round(Number(v)).toLocaleString('en-US')}`;
  expect(await fuel.getByRole('img').getAttribute('aria-label')).toContain(
    `from ${money(income)} lt to ${money(left)} lt`,
  );
  const said = await fuel.getByRole('option').allInnerTexts();
  expect(said.map((s) => s.split(':')[0])).toEqual(['Islander', 'Sounder', 'Swift']);
  expect(said.at(-1)).toContain(`, to ${money(left)} lt`);
  // The bar of the start stands for nobody; the first step's band is the second.
  const drawn = fuel.getByRole('img');
  const box = await drawn.boundingBox();
  if (!box) throw new Error('not drawn');
  await drawn.click({ position: { x: 160, y: 20 } });
  await drawn.click({ position: { x: box.width * 0.5, y: box.height * 0.28 } });
  await expect.poll(() => fuel.getByRole('option', { selected: true }).allInnerTexts()).toHaveLength(1);
  expect((await fuel.getByRole('option', { selected: true }).innerText()).startsWith('Islander')).toBe(true);
  await expect
    .poll(() => tile(page, 'several').innerText())
    .toContain((await demo.sailings("v.class = 'Islander'")).toLocaleString('en-US'));
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});

test('A place on a map is picked near its point, and drives', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=spread');
  await settled(page);
  const ports = tile(page, 'ports');
  await expect.poll(async () => (await ports.getByRole('option').allInnerTexts()).length).toBe(12);
  const first = await ports.getByRole('option').first().innerText();
  expect(first).toMatch(/^[A-Z][a-z]+: Takings [\d,]+ lt, Sold on the web [\d.]+ %; /);
  // A little off the middle of its point is near enough.
  const drawn = ports.getByRole('img');
  const box = await drawn.boundingBox();
  if (!box) throw new Error('not drawn');
  const at = { x: 8 + (1.48 / 3.2) * (box.width - 96) + 5, y: 6 + (1 - 0.22 / 1.5) * (box.height - 12) + 5 };
  await drawn.click({ position: at });
  await expect
    .poll(() => ports.getByRole('option', { selected: true }).allInnerTexts())
    .toEqual([expect.stringMatching(/^Fennimar:/)]);
  await page.mouse.move(5, 5);
  // From under the header of the page, whose ground the check would take for theirs.
  await page.evaluate(() => window.scrollTo(0, 0));
  await settled(page);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});

test('A picture shows a part of its axis that is moved by hand and by keys, and stays when the data are read anew', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=time');
  await settled(page);
  const weeks = tile(page, 'days');
  const shown = async () => (await weeks.getByRole('option').allInnerTexts()).map((m) => m.split(':')[0]);
  await expect.poll(async () => (await shown()).length).toBe(52);
  const [first, last] = [(await shown())[0], (await shown()).at(-1)];
  const part = weeks.getByRole('slider', { name: 'Place of the part' });
  expect(await part.getAttribute('aria-valuetext')).toBe(`${first} to ${last}`);
  await part.focus();
  await page.keyboard.press('ArrowLeft');
  await expect.poll(async () => (await shown()).at(-1)).not.toBe(last);
  await weeks.getByRole('slider', { name: 'First shown' }).focus();
  await page.keyboard.press('PageUp');
  await expect.poll(async () => (await shown()).length).toBe(26);
  const kept = await shown();
  await page.getByRole('button', { name: 'Read the data of this tab anew' }).click();
  await settled(page);
  expect(await shown()).toEqual(kept);
  await weeks.getByRole('button', { name: 'All', exact: true }).click();
  await expect.poll(async () => (await shown()).length).toBeGreaterThan(150);
  await weeks.getByRole('button', { name: 'Last 52' }).click();
  await expect.poll(async () => (await shown())[0]).toBe(first);
  // Every picture along dates is zoomed: by the wheel with Ctrl, and by plus and minus.
  const areas = tile(page, 'areas');
  const quarters = async () => (await areas.getByRole('option').allInnerTexts()).length;
  const all = await quarters();
  await areas.getByRole('listbox').focus();
  await page.keyboard.press('+');
  await expect.poll(quarters).toBeLessThan(all);
  await page.keyboard.press('0');
  await expect.poll(quarters).toBe(all);
  await areas.getByRole('img').hover();
  await page.keyboard.down('Control');
  await page.mouse.wheel(0, -100);
  await page.keyboard.up('Control');
  await expect.poll(quarters).toBeLessThan(all);
  await areas.getByRole('button', { name: 'All', exact: true }).click();
  await expect.poll(quarters).toBe(all);
  // Where it is repeated, it is the same part of each.
  const small = tile(page, 'small');
  const months = () =>
    small
      .getByRole('listbox')
      .evaluateAll((lists) =>
        lists.map((l) => [...l.querySelectorAll('[role=option]')].map((o) => o.textContent?.split(':')[0])),
      );
  await expect.poll(async () => (await months()).filter((m) => m.length === 12).length).toBe(4);
  const year = await months();
  await small.getByRole('listbox').nth(1).focus();
  await page.keyboard.press('+');
  await expect.poll(async () => (await months()).every((m) => m.length < 12)).toBe(true);
  expect(new Set((await months()).map((m) => m.join())).size).toBe(1);
  await small.getByRole('slider', { name: 'Place of the part' }).focus();
  await page.keyboard.press('End');
  await expect.poll(async () => (await months()).map((m) => m.at(-1))).toEqual(year.map((m) => m.at(-1)));
  await small.getByRole('button', { name: 'All', exact: true }).click();
  await expect.poll(months).toEqual(year);
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});

test('Scatters, places and maps are zoomed by wheel and keys, keep it when data are read anew, and lead back', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=spread');
  await settled(page);
  for (const name of ['vessels', 'ports', 'seas']) {
    const shown = tile(page, name);
    const whole = shown.getByRole('button', { name: 'All of it' });
    expect(await whole.count()).toBe(0);
    await shown.getByRole('listbox').focus();
    await page.keyboard.press('+');
    await whole.waitFor();
    await page.keyboard.press('0');
    await whole.waitFor({ state: 'detached' });
    await shown.getByRole('img').first().hover();
    await page.keyboard.down('Control');
    for (let i = 0; i < 3; i++) await page.mouse.wheel(0, -100);
    await page.keyboard.up('Control');
    await whole.waitFor();
  }
  // What is seen larger is picked where it is seen: the mark that is zoomed at stays under the hand.
  const vessels = tile(page, 'vessels');
  await page.getByRole('button', { name: 'Read the data of this tab anew' }).click();
  await settled(page);
  await vessels.getByRole('button', { name: 'All of it' }).click();
  await vessels.getByRole('button', { name: 'All of it' }).waitFor({ state: 'detached' });
  await tile(page, 'ports').getByRole('button', { name: 'All of it' }).waitFor();
  // Where a click drags nothing it picks: amid a point, and on a map that is enlarged as well.
  const chart = vessels.getByRole('img').first();
  const amid = await chart.evaluate((element) => {
    const canvas = element.querySelector('canvas');
    const { data, width, height } = canvas?.getContext('2d')?.getImageData(0, 0, canvas.width, canvas.height) ?? {};
    if (!data || !width || !height) throw new Error('The points are not drawn.');
    const isOfPoint = (x: number, y: number) => {
      const [r = 0, g = 0, b = 0, a = 0] = data.slice((y * width + x) * 4, (y * width + x) * 4 + 4);
      return a > 150 && Math.max(r, g, b) - Math.min(r, g, b) > 50;
    };
    for (let y = 40; y < height - 40; y++)
      for (let x = 80; x < width - 80; x++)
        if ([-3, 0, 3].every((d) => isOfPoint(x + d, y) && isOfPoint(x, y + d)))
          return { x: x / window.devicePixelRatio, y: y / window.devicePixelRatio };
    throw new Error('There is no point.');
  });
  await chart.click({ position: amid });
  const picked = (name: string) => tile(page, name).getByRole('option', { selected: true }).count();
  await expect.poll(() => picked('vessels')).toBe(1);
  const seas = tile(page, 'seas').getByRole('img').first();
  await seas.scrollIntoViewIfNeeded();
  const sea = await seas.boundingBox();
  if (!sea) throw new Error('The map is not there.');
  const parts = [0.5, 0.3, 0.7, 0.15, 0.85];
  const spots = parts.flatMap((x) => parts.map((y) => ({ x: x * sea.width, y: y * sea.height })));
  let tried = 0;
  await expect
    .poll(async () => {
      await seas.click({ position: spots[tried++ % spots.length] });
      return picked('seas');
    })
    .toBeGreaterThan(0);
  await page.getByRole('button', { name: 'Clear all' }).click();
  await expect.poll(() => picked('seas')).toBe(0);
  // Dragging an enlarged map moves it and picks nothing.
  const map = tile(page, 'ports').getByRole('img').first();
  const box = await map.boundingBox();
  if (!box) throw new Error('The map is not there.');
  await map.hover({ position: { x: box.width / 2, y: box.height / 2 } });
  const at = await map.boundingBox();
  await page.mouse.down();
  await page.mouse.move((at?.x ?? 0) + 40, (at?.y ?? 0) + box.height / 2, { steps: 4 });
  await page.mouse.up();
  expect(new URL(page.url()).searchParams.get('pick') ?? '').not.toContain('ports');
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});

test('Each line of a table has small pictures of a measure along a date, which say what they show', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=tables');
  await settled(page);
  const pilgrim = tile(page, 'courses').locator('tbody tr').filter({ hasText: 'Grey Pilgrim' });
  const [[last]] = (await demo.sql(
    `SELECT sum(passengers) FROM sailing s JOIN vessel v ON v.id = s.vessel_id
     WHERE v.name = 'Grey Pilgrim' AND s.departed_at >= '2025-10-01' AND s.departed_at < '2026-01-01'`,
  )) as [[number]];
  await expect.poll(() => pilgrim.getByRole('img').count()).toBe(2);
  expect(await pilgrim.getByRole('img').last().getAttribute('aria-label')).toContain(
    ` to ${Number(last).toLocaleString('en-US')} in Q4 2025; least `,
  );
  await tile(page, 'courses').getByText('Late by month').waitFor();
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});

test('A legend hides and shows its series, by mouse and keyboard, and shares are of those shown', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=compare');
  await settled(page);
  const shares = tile(page, 'shares');
  const first = async () => (await shares.getByRole('option').allInnerTexts())[1] ?? '';
  expect(await first()).toMatch(/counter .*kiosk .*web .*not given/);
  const web = shares.getByRole('button', { name: 'web' });
  await web.focus();
  await page.keyboard.press('Space');
  expect(await web.getAttribute('aria-pressed')).toBe('false');
  await expect.poll(first).not.toMatch(/web/);
  await shares.getByText('Shares of those shown.').waitFor();
  // A refresh changes figures and nothing that the viewer set.
  await page.getByRole('button', { name: 'Read the data of this tab anew' }).click();
  await settled(page);
  expect(await first()).not.toMatch(/web/);
  await shares.getByRole('button', { name: 'kiosk' }).click({ modifiers: ['Alt'] });
  await expect.poll(first).toMatch(/^Q1 2023: [\d,]+ lt$/);
  await shares.getByRole('button', { name: 'kiosk' }).click({ modifiers: ['Alt'] });
  await expect.poll(first).toMatch(/counter .*kiosk .*web .*not given/);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});

test('Every picture of the atlas is drawn in every tab and look, also for who may see less', {
  timeout: 300_000,
}, async () => {
  for (const account of ['director', 'skerrin-desk']) {
    const { page } = await demo.as(account);
    const errors: string[] = [];
    page.on('pageerror', (e) => errors.push(e.message));
    for (const look of ['light', 'dark', 'contrast', 'light-large'])
      for (const tab of ['compare', 'time', 'parts', 'spread']) {
        await page.goto(`${demo.url}/d/atlas?tab=${tab}&look=${look}`);
        await settled(page);
        const states = await page
          .locator('[data-tile]')
          .evaluateAll((all) => all.map((t) => t.getAttribute('data-state')));
        expect(states.every((s) => s === 'ready')).toBe(true);
        await expect.poll(() => page.locator('[role=img]:not([data-drawn])').count()).toBe(0);
      }
    expect(errors).toEqual([]);
  }
});

test('A picture is repeated for each member of a field, and what is picked on one is of its member', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=time');
  await settled(page);
  const small = tile(page, 'small');
  const panel = (area: string) => small.getByRole('region', { name: `Sea area: ${area}` });
  await expect
    .poll(() => small.getByRole('region').evaluateAll((all) => all.map((p) => p.querySelector('h3')?.textContent)))
    .toEqual(['Lantern Sound', 'North Reach', 'Outer Skein', 'South Deep']);
  const january = await panel('North Reach').getByRole('option').first().innerText();
  expect(january).toMatch(/^Jan: .*2024 [\d.]+ %.*; North Reach, Jan 2023: [\d.]+ % of [\d,]+ sailings left late/);
  await panel('North Reach').getByRole('listbox').focus();
  await page.keyboard.press('Enter');
  await page.getByRole('group', { name: 'Picks' }).getByText('Jan · North Reach').waitFor();
  await settled(page);
  const [[late]] = (await demo.sql(
    `SELECT 100.0 * count(*) FILTER (WHERE s.delay_min > 10) / count(s.delay_min) FROM sailing s JOIN route r ON s.route_id = r.id
     WHERE r.sea_area = 'North Reach' AND s.departed_at >= '2024-01-01' AND s.departed_at < '2024-02-01'`,
  )) as [[number]];
  const months = () => tile(page, 'band').getByRole('option').allInnerTexts();
  await expect.poll(months).toContain(`Jan 2024: ${Number(late).toFixed(1)} %`);
  await panel('South Deep').getByRole('button', { name: 'South Deep' }).click();
  await page.getByRole('group', { name: 'Picks' }).getByText('and 10 more').waitFor();
  // One legend for all.
  expect(await small.getByRole('group', { name: /^Legend/ }).count()).toBe(1);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});

test('A cross table has totals of both sides, folds its levels, is sorted by any column, and its cells are picked', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=tables');
  await settled(page);
  const across = tile(page, 'across');
  const head = (name: string) =>
    across.locator('tbody tr').filter({ has: page.getByRole('rowheader', { name, exact: true }) });
  const count = (where: string) => demo.sailings(where).then((n) => n.toLocaleString('en-US'));
  const cells = (row: ReturnType<typeof head>) => row.locator('td[data-at]').allInnerTexts();
  const quarter = "s.departed_at < '2023-01-01'";
  await expect
    .poll(async () => (await cells(head('Fold North Reach North Reach')))[0])
    .toBe(await count(`r.sea_area = 'North Reach' AND ${quarter}`));
  expect(await across.locator('tfoot td').first().innerText()).toBe(await count(quarter));
  await across.getByRole('button', { name: 'Fold Lantern Sound' }).click();
  await expect.poll(() => head('Lanternhead–Tolmarra').count()).toBe(0);
  await across.getByRole('button', { name: 'Unfold Lantern Sound' }).click();
  await head('Lanternhead–Tolmarra').waitFor();

  // By the first quarter, least first: the arrow says which way.
  const first = across.locator('thead th[aria-colindex="2"] button');
  await first.click();
  await first.click();
  expect(await across.locator('thead th[aria-colindex="2"]').getAttribute('aria-sort')).toBe('ascending');
  await expect.poll(async () => (await across.locator('tbody th').first().innerText()).trim()).toBe('South Deep');

  // For the visit, until the view keeps it, on every machine; the mark tells which of both, and leads back.
  const topIs = (on: Page, name: string) =>
    expect.poll(async () => (await tile(on, 'across').locator('tbody th').first().innerText()).trim()).toBe(name);
  const choose = async (mark: string, act: string) => {
    await across.getByRole('button', { name: mark }).click();
    await page
      .getByRole('dialog', { name: /^Lines of / })
      .getByRole('button', { name: act })
      .click();
  };
  await across.getByRole('button', { name: 'this visit' }).click();
  const lines = page.getByRole('dialog', { name: /^Lines of / });
  await lines.getByText('Its lines are sorted by Sailings of Q4 2022 ↑ for this visit.').waitFor();
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await lines.getByRole('button', { name: 'Keep in my view' }).click();
  await across.getByRole('button', { name: 'my view' }).waitFor();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await page.locator('[data-saving=saved]').waitFor();
  await page.keyboard.press('Escape');
  const { page: elsewhere } = await demo.as('director', '/d/atlas?tab=tables');
  await settled(elsewhere);
  await topIs(elsewhere, 'South Deep');
  await across.getByRole('button', { name: 'Sea area › Route' }).click();
  await topIs(page, 'Lantern Sound');
  await choose('this visit', 'Back to how my view has it');
  await topIs(page, 'South Deep');
  await choose('my view', 'As it was defined');
  await topIs(page, 'Lantern Sound');
  await topIs(elsewhere, 'Lantern Sound');
  await expect.poll(() => across.getByRole('button', { name: /this visit|my view/ }).count()).toBe(0);
  await elsewhere.close();

  // By key to a cell and pick it: what follows has its rows only.
  await head('Lanternhead–Tolmarra').locator('td[data-at]').first().focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await page
    .getByRole('group', { name: 'Picks' })
    .getByText('Lantern Sound · Lanternhead–Tolmarra · Q4 2022')
    .waitFor();
  await settled(page);
  const followed = tile(page, 'classes').locator('tfoot td').nth(2);
  await expect
    .poll(() => followed.innerText())
    .toBe(await count(`r.sea_area = 'Lantern Sound' AND r.name = 'Lanternhead–Tolmarra' AND ${quarter}`));
  await page.mouse.move(640, 60);
  // From under the header of the page, whose ground the check would take for theirs.
  await page.mouse.move(5, 5);
  await page.evaluate(() => window.scrollTo(0, 0));
  await settled(page);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});

test('A table is sorted by several columns, filtered by each, and its columns are put where they are wanted', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=tables');
  await settled(page);
  const table = tile(page, 'classes');
  const column = (n: number) =>
    table
      .locator('tbody tr')
      .evaluateAll((rows, n) => rows.map((r) => r.querySelectorAll('td')[n]?.textContent ?? ''), n);
  const headsOf = (page: Page) =>
    tile(page, 'classes')
      .locator('thead th')
      .evaluateAll((all) => all.map((h) => h.getAttribute('data-column')));
  const heads = () => headsOf(page);
  const menu = async (title: string, act?: string) => {
    await table.getByRole('button', { name: `Column ${title}` }).click();
    if (act) await page.getByRole('button', { name: act, exact: true }).click();
  };
  // By class, and within one by vessel, the last first.
  await table.getByRole('button', { name: 'Class', exact: true }).click();
  for (let i = 0; i < 2; i++)
    await table.getByRole('button', { name: /^Vessel( ↑.*)?$/ }).click({ modifiers: ['Shift'] });
  const [classes, vessels] = [await column(0), await column(1)];
  const sorted = async (page: Page) =>
    (await tile(page, 'classes').locator('thead button').allInnerTexts()).filter((t) => /[↑↓]/.test(t));
  expect(await sorted(page)).toEqual(['Class ↑1', 'Vessel ↓2']);
  // It lasts for the visit until it is kept: nothing is stored of a click, and it can be left.
  await menu('Vessel', 'Leave this order');
  await expect.poll(() => sorted(page)).toEqual([]);
  await table.getByRole('button', { name: 'Class', exact: true }).click();
  for (let i = 0; i < 2; i++)
    await table.getByRole('button', { name: /^Vessel( ↑.*)?$/ }).click({ modifiers: ['Shift'] });
  const stored = (await (await page.request.get(`${demo.url}/api/dashboards/atlas`)).json()) as {
    tabs: { tiles: { name: string; table: unknown }[] }[];
  };
  expect(stored.tabs.flatMap((t) => t.tiles).find((t) => t.name === 'classes')?.table).toBeNull();
  await menu('Vessel', 'Keep this order');
  await expect.poll(() => sorted(page)).toEqual(['Class ↑1', 'Vessel ↓2']);
  await page.keyboard.press('Escape');
  expect(classes).toEqual([...classes].sort());
  const ofIslander = vessels.filter((_, i) => classes[i] === 'Islander');
  expect(ofIslander).toEqual([...ofIslander].sort().reverse());

  // Text by its beginning, a figure as it is written; the totals stay those of all.
  const total = await table.locator('tfoot td').nth(2).innerText();
  await menu('Vessel');
  await page.getByRole('combobox', { name: 'How Vessel is filtered' }).click();
  await page.getByRole('option', { name: 'Begins with' }).click();
  await page.getByRole('textbox', { name: 'Text in Vessel' }).fill('ca');
  await table.getByText('1 of 14 rows').waitFor();
  expect(await column(1)).toEqual(['Calm Meridian']);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await page.keyboard.press('Escape');
  expect(await table.locator('tfoot td').nth(2).innerText()).toBe(total);
  await table.getByRole('button', { name: 'Show all' }).click();
  await menu('Mean delay');
  await page.getByLabel('At least, min').fill('4');
  await page.keyboard.press('Escape');
  await expect.poll(async () => (await column(4)).every((d) => Number(d) >= 4)).toBe(true);
  expect(await column(1)).toContain('Grey Pilgrim');
  // The view keeps it where it is told to; what is shown for the visit does not change that.
  await menu('Mean delay', 'Keep this choice of lines');
  const slow = /\d+ of 14 rows/.exec(await table.getByText(/ of 14 rows/).innerText())?.[0] ?? '';
  await table.getByRole('button', { name: 'Show all' }).click();
  await table.getByRole('button', { name: 'this visit' }).click();
  await page.getByText('Its lines are sorted by Class ↑, Vessel ↓ for this visit.').waitFor();
  await page.getByRole('button', { name: 'Back to how my view has it' }).click();
  await table.getByText(slow).waitFor();

  await menu('Class', 'Hide it');
  await menu('Late', 'Keep it in sight');
  await menu('Sailings', 'Move right');
  const moved = ['late_share', 'vessel', 'travellers', 'sailings', 'mean_delay'];
  await expect.poll(heads).toEqual(moved);
  // They are the viewer's, and not the browser's.
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await page.locator('[data-saving=saved]').waitFor();
  const elsewhere = (await demo.as('director', '/d/atlas?tab=tables')).page;
  await settled(elsewhere);
  await expect.poll(() => headsOf(elsewhere)).toEqual(moved);
  await tile(elsewhere, 'classes').getByText(slow).waitFor();
  const inSight = await column(1);
  await expect
    .poll(() =>
      tile(elsewhere, 'classes')
        .locator('tbody tr')
        .evaluateAll((rows) => rows.map((r) => r.querySelectorAll('td')[1]?.textContent ?? '')),
    )
    .toEqual(inSight);
  await expect.poll(() => sorted(elsewhere)).toEqual(['Vessel ↓2']);
  // Whoever looks at the view has them so, and may have them otherwise in their own browser.
  const shared = await page.request.post(`${demo.url}/api/dashboards/atlas/views/my/shares`, {
    headers: { Origin: demo.url },
    data: { person: 'north-ports' },
  });
  const share = ((await shared.json()) as { id: string }[]).at(-1)?.id;
  const looking = (await demo.as('north-ports', `/d/atlas?tab=tables&view=shared-${share}`)).page;
  await settled(looking);
  await expect.poll(() => headsOf(looking)).toEqual(moved);
  // But for what lines have to meet: it may name whom they may not see.
  await expect
    .poll(() => tile(looking, 'classes').locator('tbody tr').count())
    .toBeGreaterThan(Number.parseInt(slow, 10));
  await expect
    .poll(() =>
      tile(looking, 'classes')
        .getByText(/ of \d+ rows/)
        .count(),
    )
    .toBe(0);
  await tile(looking, 'classes').getByRole('button', { name: 'Column Vessel' }).click();
  await looking.getByRole('button', { name: 'Hide it', exact: true }).click();
  await expect.poll(() => headsOf(looking)).toEqual(moved.filter((c) => c !== 'vessel'));
  await tile(looking, 'classes').getByRole('button', { name: 'Column Sailings' }).click();
  await looking.getByRole('button', { name: 'Columns as published', exact: true }).click();
  await expect.poll(() => headsOf(looking)).toEqual(moved);
  expect(await heads()).toEqual(moved);
  const width = () => table.locator('[data-column=vessel]').evaluate((h) => h.getBoundingClientRect().width);
  const before = await width();
  await menu('Vessel', 'Wider');
  await expect.poll(width).toBeGreaterThan(before);
  await page.keyboard.press('Escape');
  // By hand at its edge, and back by a step of the view; the other window follows.
  const wider = await width();
  const edge = await table.locator('[data-column=vessel] > span[aria-hidden]').last().boundingBox();
  if (!edge) throw new Error('no edge');
  await page.mouse.move(edge.x + edge.width / 2, edge.y + edge.height / 2);
  await page.mouse.down();
  await page.mouse.move(edge.x + edge.width / 2 + 60, edge.y + edge.height / 2, { steps: 4 });
  await page.mouse.up();
  await expect.poll(width).toBeGreaterThan(wider + 40);
  const there = () =>
    tile(elsewhere, 'classes')
      .locator('[data-column=vessel]')
      .evaluate((h) => h.getBoundingClientRect().width);
  await expect.poll(there).toBeGreaterThan(wider + 40);
  await page.keyboard.press('Control+z');
  await expect.poll(width).toBe(wider);
  await expect.poll(there).toBe(wider);
  await menu('Vessel', 'Columns as published');
  await expect.poll(() => table.getByRole('button', { name: /this visit|my view/ }).count()).toBe(0);
  await expect.poll(heads).toEqual(['vessel_class', 'vessel', 'sailings', 'travellers', 'mean_delay', 'late_share']);
});

test('An area of a map is picked where it lies, and drives what follows', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=spread');
  await settled(page);
  const map = tile(page, 'seas');
  await expect.poll(() => map.getByRole('option').count()).toBe(4);
  // The upper left of it is the north.
  const north = page.getByRole('group', { name: 'Picks' }).getByText('North Reach');
  await expect
    .poll(async () => {
      // What comes in beside it may move it just when it is clicked.
      await map.getByRole('img').click({ position: { x: 40, y: 20 } });
      return north.waitFor({ timeout: 10_000 }).then(
        () => true,
        () => false,
      );
    })
    .toBe(true);
  await settled(page);
  const list = tile(page, 'list').locator('tbody td:first-child');
  await expect.poll(async () => [...new Set(await list.allInnerTexts())]).toEqual(['North Reach']);
  await map.getByRole('listbox').focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('Space');
  await page
    .getByRole('group', { name: 'Picks' })
    .getByText('Lantern Sound')
    .or(page.getByText('Outer Skein'))
    .first()
    .waitFor();
  // Another kind of picture by the viewer is no map where its developer has given none.
  await tile(page, 'list').getByRole('button', { name: /^Menu/ }).click();
  await page.getByRole('menuitem', { name: 'Draw otherwise' }).click();
  await page.getByText('A map needs what only its definition can give.').waitFor();
});

test('Figures stand on cards, for each measure or each member, which can be picked', async () => {
  const { page } = await demo.as('director', '/d/atlas');
  await settled(page);
  const count = (n: number) => n.toLocaleString('en-US');
  const all = tile(page, 'several').getByRole('listitem').filter({ hasText: 'Sailings' });
  const figure = () => all.locator('[data-figure]').innerText();
  expect((await figure()).trim()).toBe(count(await demo.sailings('TRUE')));
  const north = tile(page, 'cards').getByRole('button', { name: /^North Reach/ });
  await north.click();
  expect(await north.getAttribute('aria-pressed')).toBe('true');
  const expected = count(await demo.sailings("r.sea_area = 'North Reach'"));
  await expect.poll(async () => (await figure()).trim()).toBe(expected);
  expect((await north.locator('[data-figure]').innerText()).trim()).toBe(expected);
  // No figure is cut, whatever room its card has.
  for (const width of [1920, 1280, 390]) {
    await page.setViewportSize({ width, height: 800 });
    const cut = await page
      .locator('[data-picture=cards] [data-figure]')
      .evaluateAll((all) => all.filter((f) => f.scrollWidth > f.clientWidth).map((f) => f.textContent));
    expect(cut, `${width} wide`).toEqual([]);
  }
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});
