import { afterAll, beforeAll, expect, test } from 'vitest';
import { Demo, seriousFaults, settled, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

const storm = 'wind_ms >= 17 AND delay_min IS NOT NULL';

test('A box says what the rows say, shows what lies beyond, and opens to its single values and back', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=spread');
  await settled(page);
  const boxes = tile(page, 'boxes');
  const said = async () => (await boxes.getByRole('option').allInnerTexts()).find((m) => m.startsWith('storm:')) ?? '';
  const [[low, median, high]] = (await demo.sql(
    `SELECT quantile_cont(delay_min, 0.25), quantile_cont(delay_min, 0.5), quantile_cont(delay_min, 0.75) FROM sailing WHERE ${storm}`,
  )) as [[number, number, number]];
  const [least, most] = [low - 1.5 * (high - low), high + 1.5 * (high - low)];
  const [[from, to, all]] = (await demo.sql(
    `SELECT min(delay_min) FILTER (WHERE delay_min >= ${least}), max(delay_min) FILTER (WHERE delay_min <= ${most}), count(*) FROM sailing WHERE ${storm}`,
  )) as [[number, number, number]];
  const beyond = (await demo.sql(
    `SELECT delay_min, count(*) FROM sailing WHERE ${storm} AND (delay_min < ${least} OR delay_min > ${most}) GROUP BY 1 ORDER BY 1`,
  )) as [number, number][];
  const outliers = beyond.reduce((sum, [, n]) => sum + Number(n), 0);
  const min = (v: number) => `${Math.round(Number(v))} min`;
  await expect
    .poll(said)
    .toBe(
      `storm: Lower whisker ${min(from)}, Lower quartile ${min(low)}, Median ${min(median)}, Upper quartile ${min(high)}, ` +
        `Upper whisker ${min(to)}; Values ${Number(all).toLocaleString('en-US')}, Outliers ${outliers.toLocaleString('en-US')}`,
    );
  const director = await demo.client('director');
  const answer = JSON.parse(await (await director('/api/dashboards/atlas/results', { tiles: ['boxes'] })).text()) as {
    outliers: { member: string[]; value: number; count: number }[];
  };
  expect(answer.outliers.filter((o) => o.member[0] === 'storm').map((o) => [o.value, o.count])).toEqual(
    beyond.map(([v, n]) => [Number(v), Number(n)]),
  );

  // By the keyboard: down to the classes, then to single values.
  const open = async (member: string) => {
    await expect.poll(async () => (await boxes.getByRole('option').allInnerTexts()).join('\n')).toContain(`${member}:`);
    const at = (await boxes.getByRole('option').allInnerTexts()).findIndex((m) => m.startsWith(`${member}:`));
    await boxes.getByRole('listbox').focus();
    await page.keyboard.press('Home');
    for (let i = 0; i < at; i++) await page.keyboard.press('ArrowRight');
    await page.keyboard.press('Alt+ArrowDown');
    await settled(page);
  };
  await open('storm');
  await open('Swift');
  const [[value, count]] = (await demo.sql(
    `SELECT s.delay_min, count(*) FROM sailing s JOIN vessel v ON v.id = s.vessel_id WHERE ${storm} AND v.class = 'Swift' GROUP BY 1 ORDER BY 1 LIMIT 1`,
  )) as [[number, number]];
  await expect
    .poll(() => boxes.getByRole('option').first().innerText())
    .toBe(`${min(value)}: ${Number(count) === 1 ? '1 row' : `${count} rows`}`);
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await boxes.getByRole('button', { name: 'Weather', exact: true }).click();
  await expect.poll(said).toContain('Median');
});

test('Who may not see rows is told how many lie beyond and not where, and finds no level of single values', async () => {
  const auditor = await demo.client('auditor');
  const selections = { boxes: { members: [], path: ['storm', 'Swift'] } };
  const plain = JSON.parse(await (await auditor('/api/dashboards/atlas/results', { tiles: ['boxes'] })).text());
  expect(plain.state).toBe('ready');
  expect(plain.outliers ?? null).toBeNull();
  const opened = await auditor('/api/dashboards/atlas/results', { tiles: ['boxes'], selections });
  expect(opened.status).toBe(422);
});

test('Curves and ranges of members follow what is picked, and a span drawn on a curve drives', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=spread');
  await settled(page);
  const winds = tile(page, 'winds');
  const rows = (await demo.sql(
    'SELECT floor(wind_ms / 2) * 2, cancelled, count(*) FROM sailing WHERE wind_ms IS NOT NULL GROUP BY 1, 2 ORDER BY 1, 2',
  )) as [number, boolean, number][];
  const first = (await winds.getByRole('option').allInnerTexts())[1];
  const of = (isCancelled: boolean) =>
    Number(rows.find(([at, cancelled]) => Number(at) === 2 && cancelled === isCancelled)?.[2] ?? 0);
  expect(first).toBe(
    `2.0 to 4.0 m/s: no ${of(false).toLocaleString('en-US')}, yes ${of(true).toLocaleString('en-US')}`,
  );
  // Each class apart has the same ranges.
  await expect.poll(() => tile(page, 'each-class').getByRole('region').count()).toBe(3);

  const curves = tile(page, 'curves');
  await expect.poll(() => curves.innerText()).toMatch(/Estimated: Gaussian kernel over [\d,]+ values; bandwidth /);
  const list = curves.getByRole('listbox');
  await list.focus();
  await page.keyboard.press('End');
  await page.keyboard.press('ArrowLeft');
  for (let i = 0; i < 40; i++) await page.keyboard.press('Shift+ArrowLeft');
  const before = await winds.getByRole('option').allInnerTexts();
  await expect.poll(() => page.getByLabel('What is picked').innerText()).toContain('Delay');
  await settled(page);
  await expect.poll(() => winds.getByRole('option').allInnerTexts()).not.toEqual(before);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});

test('A range in the picture of one class drives with the class: by a click, by drawing, by keys; and a drawing that is taken away is not meant', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=spread');
  await settled(page);
  const [each, winds] = [tile(page, 'each-class'), tile(page, 'winds')];
  const picked = () => page.getByLabel('What is picked').innerText();
  const pictures = each.locator('[data-chart]');
  const count = async (where: string) =>
    Number(
      (
        (await demo.sql(
          `SELECT count(*) FROM sailing s JOIN vessel v ON v.id = s.vessel_id WHERE wind_ms >= 2 AND wind_ms < 4 AND NOT cancelled AND ${where}`,
        )) as [[number]]
      )[0][0],
    ).toLocaleString('en-US');
  const said = async () => (await winds.getByRole('option').allInnerTexts())[1];
  // A click on a bar takes its range, in one picture alone.
  const bars = await pictures.nth(2).boundingBox();
  if (!bars) throw new Error('no picture');
  await pictures.nth(2).click({ position: { x: bars.width * 0.25, y: bars.height * 0.5 } });
  await expect.poll(picked).toContain('0 min to below 10 min · Swift');
  await expect.poll(() => each.getByRole('option', { selected: true }).count()).toBe(1);
  await expect
    .poll(said)
    .toBe(`2.0 to 4.0 m/s: ${await count("delay_min >= 0 AND delay_min < 10 AND class = 'Swift'")}`);
  expect(await each.locator('[data-band]:visible').count()).toBe(1);
  // A drawing in another picture takes its place; one that the browser takes away gives it back.
  const first = await pictures.first().boundingBox();
  if (!first) throw new Error('no picture');
  await page.mouse.move(first.x + first.width * 0.25, first.y + first.height * 0.5);
  await page.mouse.down();
  await page.mouse.move(first.x + first.width * 0.45, first.y + first.height * 0.5, { steps: 5 });
  await expect.poll(picked).toContain('· Islander');
  await pictures.first().dispatchEvent('pointercancel');
  await expect.poll(picked).toContain('0 min to below 10 min · Swift');
  await page.mouse.up();
  await page.mouse.move(5, 5);
  // By keys: a range, and one more beside it.
  await each.getByRole('listbox').nth(1).focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('Space');
  await expect.poll(picked).toContain('−10 min to below 0 min · Sounder');
  await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(picked).toContain('−10 min to below 10 min · Sounder');
  await expect
    .poll(said)
    .toBe(`2.0 to 4.0 m/s: ${await count("delay_min >= -10 AND delay_min < 10 AND class = 'Sounder'")}`);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  // In a new window it is as the address has it.
  const { page: other } = await demo.as('director', `/d/atlas${new URL(page.url()).search}`);
  await expect
    .poll(() => other.getByLabel('What is picked').innerText())
    .toContain('−10 min to below 10 min · Sounder');
  await expect.poll(() => tile(other, 'each-class').getByRole('option', { selected: true }).count()).toBe(2);
});

test('A summary says what each class is like, and grades move from the first to the worst later one, both under what is picked', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=tables');
  await settled(page);
  const facts = tile(page, 'facts').getByRole('table');
  const cell = (row: string, column: number) =>
    facts
      .getByRole('row', { name: new RegExp(`^${row} `) })
      .first()
      .getByRole('cell')
      .nth(column)
      .innerText();
  const told = async (where: string) => {
    const [[n, mean, sd]] = (await demo.sql(
      `SELECT count(delay_min), avg(delay_min), stddev_samp(delay_min) FROM sailing s JOIN vessel v ON v.id = s.vessel_id WHERE ${where}`,
    )) as [[number, number, number]];
    return [Number(n).toLocaleString('en-US'), `${Number(mean).toFixed(1)} (${Number(sd).toFixed(1)})`];
  };
  expect(await facts.getByRole('columnheader').allInnerTexts()).toEqual([
    'Field',
    expect.stringMatching(/^Islander \([\d,]+\)$/),
    expect.stringMatching(/^Sounder /),
    expect.stringMatching(/^Swift /),
    expect.stringMatching(/^All /),
  ]);
  expect([await cell('n', 1), await cell('mean \\(sd\\)', 1)]).toEqual(await told("v.class = 'Sounder'"));
  expect([await cell('n', 3), await cell('mean \\(sd\\)', 3)]).toEqual(await told('true'));

  const moves = tile(page, 'moves').getByRole('table');
  const seen = (await demo.sql(
    'SELECT vessel_id, inspected_on, grade, v.class FROM inspection i JOIN vessel v ON v.id = i.vessel_id ORDER BY 1, 2',
  )) as [number, string, string, string][];
  const order = ['sound', 'fair', 'worn', 'poor'];
  const moved = (of: typeof seen) => {
    const counts = new Map<string, number>();
    for (const vessel of new Set(of.map(([id]) => id))) {
      const [first, ...later] = of.filter(([id]) => id === vessel).map(([, , grade]) => order.indexOf(grade));
      const key = `${order[first ?? 0]} ${later.length === 0 ? 'not seen again' : order[Math.max(...later)]}`;
      counts.set(key, (counts.get(key) ?? 0) + 1);
    }
    return Object.fromEntries([...counts].sort());
  };
  const shown = async () => {
    const columns = (await moves.getByRole('columnheader').allInnerTexts()).slice(3);
    const found: [string, number][] = [];
    // In one look: a row that goes meanwhile would be waited for.
    const rows = await moves
      .locator('tbody tr')
      .evaluateAll((all) => all.map((row) => [...row.querySelectorAll<HTMLElement>('th, td')].map((c) => c.innerText)));
    for (const [grade, ...counts] of rows)
      for (const [i, count] of counts.entries())
        if (columns[i] !== undefined && count !== '–') found.push([`${grade} ${columns[i]}`, Number(count)]);
    return Object.fromEntries(found.sort());
  };
  expect(await shown()).toEqual(moved(seen));
  // A vessel that is picked elsewhere is the only one that is followed.
  await page.evaluate(() => window.scrollTo(0, 0));
  await tile(page, 'classes')
    .getByRole('row', { name: /Grey Pilgrim/ })
    .click();
  await expect.poll(shown).toEqual(moved(seen.filter(([vessel]) => vessel === 7)));
  await page.mouse.move(5, 5);
  // Rows that are scrolled under what sticks have a ground that the check would take for theirs.
  await page.evaluate(() => {
    window.scrollTo(0, 0);
    for (const part of document.querySelectorAll('[data-tile] *')) part.scrollTop = 0;
  });
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});

test('A table has pages, bands with their legend, cells written from several columns and ways to elsewhere', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=spread');
  await settled(page);
  const watch = tile(page, 'watch');
  const grid = watch.getByRole('grid');
  const [[route, port, share]] = (await demo.sql(
    'SELECT r.name, r.home_port, count(*) FILTER (WHERE delay_min > 10) / count(delay_min) FROM sailing s JOIN route r ON r.id = s.route_id GROUP BY 1, 2 ORDER BY 3 DESC LIMIT 1',
  )) as [[string, string, number]];
  const first = grid.locator('tbody tr').first();
  expect(await first.getByRole('link').innerText()).toBe(`${route} (staff of ${port})`);
  expect(await first.getByRole('link').getAttribute('href')).toBe('/d/punctuality?tab=watch');
  expect(await first.textContent()).toContain(`${(100 * Number(share)).toFixed(1)}, to report`);
  expect(await grid.getByRole('columnheader').count()).toBe(3);
  expect(await watch.innerText()).toContain('to watch, below 13.0 %');
  expect(await grid.locator('tbody tr').count()).toBe(8);
  await watch.getByRole('button', { name: 'Next' }).click();
  await watch.getByRole('button', { name: 'Next' }).click();
  expect(await watch.innerText()).toContain('17 to 24 of 24');
  expect(await watch.getByRole('button', { name: 'Next' }).isDisabled()).toBe(true);
  // What is sorted is all of them, and a line is picked beside its link.
  await grid.getByRole('button', { name: 'Sailings', exact: true }).click();
  await grid.locator('tbody tr').first().getByRole('gridcell').nth(1).click();
  await expect.poll(() => page.getByLabel('What is picked').innerText()).toContain('Route');
  await page.evaluate(() => window.scrollTo(0, 0));
  await settled(page);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});

test('A line of each picture is at the figure of its own rows, and a picture without tools has no menu', async () => {
  const director = await demo.client('director');
  const answer = JSON.parse(await (await director('/api/dashboards/atlas/results', { tiles: ['small'] })).text()) as {
    referencesOfEach: { member: string; at: number[] }[];
  };
  const shares = (await demo.sql(
    'SELECT r.sea_area, count(*) FILTER (WHERE delay_min > 10) / count(delay_min) FROM sailing s JOIN route r ON r.id = s.route_id GROUP BY 1 ORDER BY 1',
  )) as [string, number][];
  expect(answer.referencesOfEach.map((r) => r.member).sort()).toEqual(shares.map(([area]) => area));
  for (const [area, share] of shares)
    expect(answer.referencesOfEach.find((r) => r.member === area)?.at[0]).toBeCloseTo(Number(share), 9);

  const { page } = await demo.as('director', '/d/atlas?tab=spread');
  await settled(page);
  expect(
    await tile(page, 'crews')
      .getByRole('button', { name: /^Menu of/ })
      .count(),
  ).toBe(1);
  expect(
    await tile(page, 'each-class')
      .getByRole('button', { name: /^Menu of/ })
      .count(),
  ).toBe(0);
  // A point stands for its route, whatever else it tells by its shape.
  const points = tile(page, 'crews');
  await points.getByRole('listbox').focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('Space');
  await expect.poll(() => points.getByRole('option', { selected: true }).count()).toBe(1);
  expect(await points.innerText()).toContain('▲\u00a0Outer Skein');
});

test('Cost centres stand below the ones above them, add up, and what has no parent is named', async () => {
  const { page } = await demo.as('director', '/d/atlas?tab=parts');
  await settled(page);
  const centres = tile(page, 'centres');
  const [[all, hulls]] = (await demo.sql(
    "SELECT sum(amount), sum(amount) FILTER (WHERE centre = 'Hulls') FROM cost",
  )) as [[number, number]];
  const money = (v: number) => `${Number(v).toLocaleString('en-US')} lt`;
  expect(await centres.getByRole('img').getAttribute('aria-label')).toContain(`${money(all)} in all`);
  const marks = await centres.getByRole('option').allInnerTexts();
  expect(marks).toContain(`Lantern Isles · Operations · Vessels · Hulls: ${money(hulls)}`);
  expect(marks.some((m) => m.startsWith('Lantern Isles · Sales · itself: '))).toBe(true);
  expect(await centres.innerText()).toContain('Without their parent: Harbour trials.');
  // A label is picked with all that is below it.
  await centres.getByRole('img').click({ position: { x: 40, y: 48 } });
  await expect
    .poll(async () => (await centres.getByRole('option', { selected: true }).allInnerTexts()).sort())
    .toEqual(marks.filter((m) => m.includes('· Vessels')).sort());
  await expect
    .poll(() => tile(page, 'centre-rings').getByRole('img').getAttribute('aria-label'))
    .not.toContain(money(all));
});
