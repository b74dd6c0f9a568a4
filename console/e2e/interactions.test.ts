import { readFileSync } from 'node:fs';
import type { Request } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { approach, asked, barOf, chart, Demo, figure, picked, pickOf, seriousFaults, settled, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

const sailings = (where: string) => demo.sailings(where);
const link = (state: object, tab = 'watch') =>
  `/d/punctuality?tab=${tab}&pick=${encodeURIComponent(JSON.stringify(state))}`;

describe('A span', () => {
  test('that is a named period is drawn as what it spans now, and its days stand in the entries', async () => {
    const period = '2025-03-03 to 2025-08-31';
    const { page } = await demo.as('director', link({ span: { members: [], period }, days: { members: [], period } }));
    await settled(page);
    await tile(page, 'span').locator('[data-band]').waitFor();
    const band = (await tile(page, 'span').locator('[data-band]').boundingBox())?.width ?? 0;
    expect(band).toBeGreaterThan(50);
    for (const [label, day] of [
      ['From', '3 Mar 2025'],
      ['To', '31 Aug 2025'],
    ] as const)
      expect(await tile(page, 'span').getByLabel(label, { exact: true }).inputValue()).toBe(day);
    expect(await figure(page, 'counted')).toBe(
      await sailings("departed_at >= '2025-03-03' AND departed_at < '2025-09-01'"),
    );
    await page.getByRole('tab', { name: 'Conditions' }).click();
    const to = tile(page, 'days').getByLabel('To', { exact: true });
    await to.waitFor();
    expect(await to.inputValue()).toBe('31 Aug 2025');
  });

  test('is drawn by mouse, moved, and answered without a question, as a direct query would', async () => {
    const { page } = await demo.as('director', '/d/punctuality');
    await settled(page);
    const box = await approach(page, 'span');
    const before = await figure(page, 'counted');
    const sent: string[] = [];
    const note = (r: Request) => r.url().includes('/api/dashboards') && sent.push(r.url());
    page.on('request', note);
    const y = box.y + 40;
    await page.mouse.move(box.x + box.width * 0.4, y);
    await page.mouse.down();
    for (let x = 0.4; x <= 0.7; x += 0.02) await page.mouse.move(box.x + box.width * x, y);
    await expect.poll(() => figure(page, 'counted')).not.toBe(before);
    await page.mouse.up();
    await expect.poll(() => pickOf(page).span?.range).toBeDefined();
    const { from, to } = pickOf(page).span.range;
    const inSpan = await sailings(`departed_at >= '${from}' AND departed_at < '${to}'`);
    await expect.poll(() => figure(page, 'counted')).toBe(inSpan);
    // What the moving hand drew is, once it rests, what is drawn afresh, as it is once the pointer has been there.
    // Compared in the page: so many values take long on their way out of it.
    const drawn = (isAfresh: boolean) =>
      chart(page, 'areas')
        .locator('canvas')
        .evaluateAll((all, isFirst) => {
          const layers = (all as HTMLCanvasElement[]).map((canvas) => {
            const context = canvas.getContext('2d') as CanvasRenderingContext2D;
            return context.getImageData(0, 0, canvas.width, canvas.height).data;
          });
          const kept = globalThis as { afresh?: Uint8ClampedArray[] };
          if (isFirst) kept.afresh = layers;
          const isOther = (v: number, l: number, i: number) => Math.abs(v - (kept.afresh?.[l]?.[i] ?? 0)) > 16;
          return {
            isBlank: layers.every((layer) => layer.every((v) => v === 0)),
            others: layers.reduce((n, layer, l) => n + layer.filter((v, i) => isOther(v, l, i)).length, 0),
          };
        }, isAfresh);
    const others = async () => (await drawn(false)).others;
    const rested = () => expect.poll(() => chart(page, 'areas').getAttribute('data-moving')).toBe(null);
    await rested();
    // Its tip comes with the first move after what draws it is there.
    let x = 100;
    await expect
      .poll(async () => {
        await chart(page, 'areas').hover({ position: { x: x++, y: 60 } });
        return chart(page, 'areas').evaluate((picture) => picture.childElementCount);
      })
      .toBeGreaterThan(1);
    await page.mouse.move(0, 0);
    await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
    expect((await drawn(true)).isBlank).toBe(false);
    const there = await tile(page, 'span').locator('[data-band]').boundingBox();
    if (!there) throw new Error('no span is drawn');
    const middle = there.x + there.width / 2;
    await page.mouse.move(middle, y);
    await page.mouse.down();
    for (let x = 0; x <= 24; x += 8) await page.mouse.move(middle - x, y);
    await expect.poll(() => figure(page, 'counted')).not.toBe(inSpan);
    await expect.poll(others).toBeGreaterThan(0);
    await page.mouse.move(middle, y);
    await page.mouse.up();
    await expect.poll(() => figure(page, 'counted')).toBe(inSpan);
    await rested();
    await expect.poll(others).toBe(0);
    // Its middle moves it, by whole weeks.
    const band = await tile(page, 'span').locator('[data-band]').boundingBox();
    if (!band) throw new Error('no span is drawn');
    await page.mouse.move(band.x + band.width / 2, y);
    await page.mouse.down();
    for (let x = 0; x <= 80; x += 8) await page.mouse.move(band.x + band.width / 2 - x, y);
    await page.mouse.up();
    await expect.poll(() => pickOf(page).span.range.from).not.toBe(from);
    const moved = pickOf(page).span.range;
    expect(Date.parse(moved.to) - Date.parse(moved.from)).toBe(Date.parse(to) - Date.parse(from));
    await expect
      .poll(() => figure(page, 'counted'))
      .toBe(await sailings(`departed_at >= '${moved.from}' AND departed_at < '${moved.to}'`));
    expect(sent.filter((u) => u.endsWith('/results'))).toEqual([]);
    page.off('request', note);
    await page.goBack();
    await expect.poll(() => pickOf(page).span.range).toEqual({ from, to });
  });

  test('stands where it will stay, before what comes around it is there', async () => {
    const { page } = await demo.as('director');
    const held: (() => void)[] = [];
    await page.route(/(ParameterControl|RangeEnds|Origin)-[^/]*\.js$/, async (route) => {
      await new Promise<void>((done) => {
        held.push(done);
      });
      await route.continue();
    });
    const boxes = () =>
      page
        .locator('[role=img]')
        .evaluateAll((all) => all.map((e) => e.getBoundingClientRect()).map((b) => [b.x, b.y, b.width, b.height]));
    for (const [path, late] of [
      ['punctuality', [page.getByLabel('Late after'), tile(page, 'span').getByLabel('From')]],
      ['bridge', [page.getByLabel('About this dashboard').locator('div')]],
    ] as const) {
      await page.goto(`${demo.url}/d/${path}`);
      await settled(page);
      const before = await boxes();
      for (const one of late) expect(await one.count()).toBe(0);
      for (const one of late)
        await expect
          .poll(() => {
            for (const done of held.splice(0)) done();
            return one.count();
          })
          .toBe(1);
      expect(await boxes()).toEqual(before);
    }
  });

  test('is drawn by a finger', async () => {
    const { page, context } = await demo.as('director', '/d/punctuality', { hasTouch: true });
    await settled(page);
    const box = await chart(page, 'span').boundingBox();
    if (!box) throw new Error('no picture');
    const cdp = await context.newCDPSession(page);
    const at = (x: number) => [{ x: box.x + box.width * x, y: box.y + 40 }];
    const before = await figure(page, 'counted');
    const draw = async (end: 'touchEnd' | 'touchCancel') => {
      await cdp.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: at(0.3) });
      for (const x of [0.35, 0.4, 0.45, 0.5])
        await cdp.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: at(x) });
      if (end === 'touchCancel') await expect.poll(() => figure(page, 'counted')).not.toBe(before);
      await cdp.send('Input.dispatchTouchEvent', { type: end, touchPoints: [] });
    };
    // A touch that the browser takes for itself leaves things as they were.
    await draw('touchCancel');
    await expect.poll(() => figure(page, 'counted')).toBe(before);
    expect(pickOf(page).span).toBeUndefined();
    // A browser takes a touch for itself too that the page answers late, as it may on a slow machine: then it is drawn again.
    const taken = () => page.evaluate(() => Number(document.body.dataset.taken ?? 0));
    await page.evaluate(() => {
      addEventListener('pointercancel', () => {
        document.body.dataset.taken = String(Number(document.body.dataset.taken ?? 0) + 1);
      });
    });
    for (let drawn = 0; drawn < 20 && !pickOf(page).span; drawn++) {
      const takenBefore = await taken();
      await draw('touchEnd');
      await expect.poll(async () => pickOf(page).span !== undefined || (await taken()) > takenBefore).toBe(true);
    }
    const { from, to } = pickOf(page).span.range;
    await expect
      .poll(() => figure(page, 'counted'))
      .toBe(await sailings(`departed_at >= '${from}' AND departed_at < '${to}'`));
  });

  test('is made from the keyboard, typed to the day, and jumps to a named period', async () => {
    const { page } = await demo.as('director', '/d/punctuality');
    await settled(page);
    await tile(page, 'span').getByRole('listbox').focus();
    for (const key of ['Home', 'ArrowRight', 'ArrowRight', 'Shift+ArrowRight', 'Shift+ArrowRight'])
      await page.keyboard.press(key);
    await expect.poll(() => pickOf(page).span?.range).toEqual({ from: '2022-12-26', to: '2023-01-16' });
    await tile(page, 'span').getByLabel('From').fill('2024-02-10');
    await tile(page, 'span').getByLabel('To').fill('2024-03-03');
    await expect.poll(() => pickOf(page).span?.range).toEqual({ from: '2024-02-10', to: '2024-03-04' });
    await expect
      .poll(() => figure(page, 'counted'))
      .toBe(await sailings("departed_at >= '2024-02-10' AND departed_at < '2024-03-04'"));
    await tile(page, 'span').getByRole('combobox', { name: 'Period' }).click();
    await asked(page, () => page.getByRole('option', { name: 'previous year' }).click());
    const year = new Date().getFullYear() - 1;
    expect(await figure(page, 'counted')).toBe(
      await sailings(`departed_at >= '${year}-01-01' AND departed_at < '${year + 1}-01-01'`),
    );
  });
});

describe('Levels', () => {
  test('open by a double click, lead back by the path, and bring their picks back', async () => {
    const { page } = await demo.as('director', '/d/punctuality');
    await settled(page);
    const area = await barOf(page, 'areas', 'South Deep');
    await page.mouse.dblclick(area.x, area.y);
    await tile(page, 'areas').getByRole('navigation').getByText('South Deep').waitFor();
    await expect.poll(() => figure(page, 'counted')).toBe(await sailings("r.sea_area = 'South Deep'"));
    expect(await picked(page)).toContain('South Deep');
    await tile(page, 'areas').getByRole('listbox').focus();
    await page.keyboard.press('Home');
    await page.keyboard.press('Space');
    const [[route]] = pickOf(page).areas.members as [[string]];
    await expect.poll(() => figure(page, 'counted')).toBe(await sailings(`r.name = '${route}'`));
    await page.keyboard.press('Alt+ArrowDown');
    await tile(page, 'areas').getByText('by vessel').waitFor();
    // Back by one step: the route is picked again.
    await tile(page, 'areas').getByRole('navigation').getByRole('button', { name: 'South Deep' }).click();
    await expect.poll(() => pickOf(page).areas.members).toEqual([[route]]);
    await tile(page, 'areas').getByRole('navigation').getByRole('button', { name: 'Sea area' }).click();
    await expect.poll(() => figure(page, 'counted')).toBe(await sailings('true'));
    expect(pickOf(page)).toEqual({});
  });
});

describe('A pick', () => {
  test('are made, joined and let go by a finger, and opened from the keyboard', async () => {
    const { page } = await demo.as('director', '/d/punctuality', { hasTouch: true });
    await settled(page);
    for (const area of ['South Deep', 'Outer Skein']) {
      const bar = await barOf(page, 'areas', area);
      await page.touchscreen.tap(bar.x, bar.y);
      await expect.poll(() => picked(page)).toContain(area);
    }
    await expect
      .poll(() => figure(page, 'counted'))
      .toBe(await sailings("r.sea_area IN ('South Deep', 'Outer Skein')"));
    await tile(page, 'areas').getByRole('button', { name: /^Menu/ }).tap();
    await page.getByRole('menuitem', { name: 'Clear what is picked here' }).tap();
    await expect.poll(() => figure(page, 'counted')).toBe(await sailings('TRUE'));
    // The level below a member, by Alt with the arrow down; the path leads back.
    await tile(page, 'areas').getByRole('listbox').focus();
    await page.keyboard.press('Home');
    const first = (await tile(page, 'areas').getByRole('option').first().innerText()).split(':')[0] ?? '';
    await page.keyboard.press('Alt+ArrowDown');
    await expect.poll(() => pickOf(page).areas?.path).toEqual([first]);
    await expect.poll(() => figure(page, 'counted')).toBe(await sailings(`r.sea_area = '${first}'`));
    await tile(page, 'areas').getByRole('navigation').getByRole('button').first().press('Enter');
    await expect.poll(() => figure(page, 'counted')).toBe(await sailings('TRUE'));
  });

  test('can mean all but these, by the menu and with Alt', async () => {
    const { page } = await demo.as('director', link({ vessels: { members: [[7]] } }));
    await settled(page);
    expect(await figure(page, 'counted')).toBe(await sailings("v.name = 'Grey Pilgrim'"));
    await tile(page, 'vessels').getByRole('button', { name: /^Menu/ }).click();
    await page.getByRole('menuitem', { name: 'All but what is picked' }).click();
    await expect.poll(() => figure(page, 'counted')).toBe(await sailings("v.name <> 'Grey Pilgrim'"));
    expect(await picked(page)).toContain('not Grey Pilgrim');
  });

  test('on controls: a switch, a piece of text, boxes and a slider, each as a direct query would', async () => {
    const { page } = await demo.as('director', '/d/punctuality?tab=conditions');
    await settled(page);
    const total = async () =>
      (await tile(page, 'months').getByRole('option').allInnerTexts())
        .map((t) => Number(/: ([\d,]+)/.exec(t)?.[1]?.replaceAll(',', '') ?? 0))
        .reduce((a, b) => a + b, 0);
    await tile(page, 'only-late').getByRole('switch').click({ force: true });
    await expect.poll(total).toBe(await sailings('delay_min > 10'));
    await tile(page, 'find-vessel').getByRole('textbox').fill('GREY');
    await expect.poll(total).toBe(await sailings("delay_min > 10 AND v.name ILIKE '%grey%'"));
    await tile(page, 'kinds-of-weather').getByRole('checkbox', { name: 'storm' }).click();
    await expect.poll(total).toBe(await sailings("delay_min > 10 AND v.name ILIKE '%grey%' AND wind_ms >= 17"));
    await tile(page, 'kinds-of-weather').getByRole('checkbox', { name: 'All' }).click();
    const from = tile(page, 'wind').getByRole('slider').first();
    await from.focus();
    for (let i = 0; i < 30; i++) await page.keyboard.press('ArrowRight');
    await expect.poll(() => pickOf(page).wind?.range?.from).toBeGreaterThan(1);
    await expect
      .poll(total)
      .toBe(await sailings(`delay_min > 10 AND v.name ILIKE '%grey%' AND wind_ms >= ${pickOf(page).wind.range.from}`));
    // The group drives its tab as a whole; the tile that follows none stands.
    expect(await figure(page, 'whole-network')).toBeGreaterThan(0);
    await page.getByRole('button', { name: 'Clear all' }).click();
    await expect.poll(total).toBe(await sailings('true'));
  });

  test('on bars of a histogram: each range is the rows that lie in it, and drives', async () => {
    const { page } = await demo.as('director', '/d/punctuality?tab=conditions');
    await settled(page);
    const bars = () => tile(page, 'spread').getByRole('option').allInnerTexts();
    const shown = (await bars()).map((t) => /^(−?[\d,]+) to (−?[\d,]+) min: ([\d,]+)/.exec(t) ?? []);
    const number = (text: string | undefined) => Number((text ?? '').replaceAll(',', '').replace('−', '-'));
    const ranges = shown.map(([, from, to, count]) => [number(from), number(to), number(count)] as const);
    expect(ranges.length).toBeGreaterThan(5);
    for (const [i, [from, to, count]] of ranges.entries())
      expect(count, `${from} to ${to}`).toBe(
        await sailings(`delay_min >= ${from} AND delay_min ${i < ranges.length - 1 ? '<' : '<='} ${to}`),
      );
    // The second bar by keyboard, then the range to the third.
    await tile(page, 'spread').getByRole('listbox').focus();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('Enter');
    const [from, to] = ranges[1] ?? [0, 0];
    await expect.poll(() => pickOf(page).spread?.range).toEqual({ from, to, below: true });
    const months = async () =>
      (await tile(page, 'months').getByRole('option').allInnerTexts())
        .map((t) => Number(/: ([\d,]+)/.exec(t)?.[1]?.replaceAll(',', '') ?? 0))
        .reduce((a, b) => a + b, 0);
    await expect.poll(months).toBe(await sailings(`delay_min >= ${from} AND delay_min < ${to}`));
    expect(await picked(page)).toContain(`${from} min to below ${to} min`.replaceAll('-', '−'));
    await page.keyboard.press('Shift+ArrowRight');
    await expect.poll(() => pickOf(page).spread?.range?.to).toBe(ranges[2]?.[1]);
    // Its own ranges and counts stand while it drives others.
    expect(await bars()).toHaveLength(ranges.length);
  });

  test('that the page answers by itself is checked against the database on request', async () => {
    const { page } = await demo.as('director', '/d/punctuality');
    await settled(page);
    await tile(page, 'counted').getByRole('button', { name: /^Menu/ }).click();
    await page.getByRole('menuitem', { name: 'Where this comes from' }).click();
    await page.getByLabel(/Check such answers/).check();
    expect(await page.getByRole('dialog').innerText()).toContain('rows that meet them');
    await page.getByRole('button', { name: 'Close' }).click();
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    await approach(page, 'vessels');
    const at = await barOf(page, 'vessels', 'Calm Meridian');
    await page.mouse.click(at.x, at.y);
    await page
      .locator('[data-check]')
      .getByText(/Checked [1-9]\d* answers .* all are equal/)
      .waitFor();
    expect(await figure(page, 'counted')).toBe(await sailings("v.name = 'Calm Meridian'"));
  });
});

describe('Beside the pictures', () => {
  test('two states stand side by side at equal scale, and one goes on', async () => {
    const { page } = await demo.as('director', link({ vessels: { members: [[7]] } }));
    await settled(page);
    await page.getByRole('button', { name: /^Compare/ }).click();
    await tile(page, 'counted').locator('[data-side=A] [data-figure]').waitFor();
    await tile(page, 'vessels').locator('[data-side=B]').getByRole('listbox').focus();
    await page.keyboard.press('End');
    await page.keyboard.press('Space');
    await page.keyboard.press('Home');
    await page.keyboard.press('Space');
    const [[other]] = pickOf(page).vessels.members as [[number]];
    expect(other).not.toBe(7);
    const side = async (name: string) =>
      Number((await tile(page, 'counted').locator(`[data-side=${name}] [data-figure]`).innerText()).replace(/\D/g, ''));
    await expect.poll(() => side('B')).toBe(await sailings(`v.id = ${other}`));
    expect(await side('A')).toBe(await sailings("v.name = 'Grey Pilgrim'"));
    const difference = (await side('B')) - (await side('A'));
    expect((await tile(page, 'counted').locator('[data-difference]').innerText()).replace(/[^\d]/g, '')).toBe(
      String(Math.abs(difference)),
    );
    await page.setViewportSize({ width: 390, height: 844 });
    const isCut = (buttons: Element[]) =>
      buttons
        .flatMap((b) => [...b.querySelectorAll('*')])
        .some((e) => e.scrollWidth > e.clientWidth && e.clientWidth > 0);
    const goOn = page.getByRole('button', { name: /^Go on with/ });
    expect(await goOn.count()).toBe(2);
    expect(await goOn.evaluateAll(isCut)).toBe(false);
    await page.getByRole('button', { name: 'Go on with A' }).click();
    await expect.poll(() => pickOf(page).vessels.members).toEqual([[7]]);
    await expect.poll(() => figure(page, 'counted')).toBe(await sailings("v.name = 'Grey Pilgrim'"));
  });

  test('one tile takes the whole area, drives as ever, and gives it back as it was left', async () => {
    const { page } = await demo.as('director', '/d/punctuality');
    await settled(page);
    const before = await tile(page, 'ranking').boundingBox();
    await tile(page, 'ranking').getByRole('button', { name: 'Mean delay, min' }).click();
    await tile(page, 'ranking').getByRole('button', { name: /^Menu/ }).click();
    await page.getByRole('menuitem', { name: 'Enlarge' }).click();
    await expect.poll(async () => (await tile(page, 'ranking').boundingBox())?.width).toBeGreaterThan(1200);
    expect(await tile(page, 'vessels').isVisible()).toBe(false);
    await expect.poll(() => seriousFaults(page)).toEqual([]);
    await tile(page, 'ranking').getByText('Grey Pilgrim').click();
    await page.keyboard.press('Escape');
    await expect.poll(() => tile(page, 'vessels').isVisible()).toBe(true);
    expect((await tile(page, 'ranking').boundingBox())?.width).toBe(before?.width);
    await expect.poll(() => figure(page, 'counted')).toBe(await sailings("v.name = 'Grey Pilgrim'"));
    // Sorted as it was before.
    expect(await tile(page, 'ranking').locator('th[aria-sort=descending]').innerText()).toContain('Mean delay');
    // A link and Back know it too.
    await page.goto(`${demo.url}/d/punctuality?large=areas`);
    await settled(page);
    await tile(page, 'areas').getByRole('button', { name: 'Back to all tiles' }).click();
    await expect.poll(() => tile(page, 'vessels').isVisible()).toBe(true);
    // Back leads out of the page while the address has not followed yet.
    await page.waitForURL((url) => !url.searchParams.has('large'));
    await page.goBack();
    await expect.poll(() => tile(page, 'vessels').isVisible()).toBe(false);
  });

  test('the wiring is laid over the page by one key, and says why a tile is not reached', async () => {
    const { page } = await demo.as('director', '/d/punctuality?tab=conditions');
    await settled(page);
    await page.keyboard.press('w');
    const wiring = page.locator('[data-wiring]');
    await wiring.getByRole('button', { name: /^whole-network: drives none, follows 0/ }).focus();
    await wiring.getByText('This tile follows no other.').waitFor();
    expect(await wiring.locator('svg > path').count()).toBeGreaterThan(20);
    await expect.poll(() => seriousFaults(page)).toEqual([]);
    await page.keyboard.press('Escape');
    expect(await wiring.count()).toBe(0);
  });

  test.for([
    ['/d/tickets', 'routes'],
    // What a colour means stands below its figures, and takes some of the room.
    ['/d/atlas?tab=tables', 'classes'],
    ['/d/atlas?tab=tables', 'across'],
  ] as const)('a table with totals shows whole rows above them, and none that is cut: %s', async ([address, name]) => {
    const { page } = await demo.as('director', address);
    await settled(page);
    const table = tile(page, name).locator('table');
    const seen = () =>
      table.evaluate((t) => {
        const totals = (t.querySelector('tfoot :is(th, td)') as Element).getBoundingClientRect().top;
        const bottoms = [...t.querySelectorAll('tbody tr')].map((r) => r.getBoundingClientRect().bottom);
        const whole = bottoms.filter((bottom) => bottom <= totals + 1);
        return { isMore: whole.length < bottoms.length, count: whole.length, gap: totals - (whole.at(-1) ?? 0) };
      });
    await expect.poll(async () => (await seen()).count).toBeGreaterThan(5);
    // There are more rows than are seen, and the one after the last begins where the totals do.
    await expect.poll(async () => Math.abs((await seen()).gap)).toBeLessThan(2);
    expect((await seen()).isMore).toBe(true);
  });

  test('the rows behind a mark are paged, sorted, chosen, saved as CSV and shown as a record', async () => {
    const { page } = await demo.as('director', link({ vessels: { members: [[7]] } }));
    await settled(page);
    await tile(page, 'vessels').getByRole('button', { name: /^Menu/ }).click();
    await page.getByRole('menuitem', { name: 'Rows behind Grey Pilgrim' }).click();
    const panel = page.getByRole('dialog');
    const count = await sailings("v.name = 'Grey Pilgrim'");
    await panel.getByText(`1 to 50 of ${count.toLocaleString('en-US')} rows`).waitFor();
    for (let i = 0; i < 2; i++) await panel.getByRole('button', { name: /^Delay/ }).click();
    const [[worst]] = (await demo.sql(
      "SELECT max(delay_min)::INTEGER FROM sailing s JOIN vessel v ON v.id = s.vessel_id WHERE v.name = 'Grey Pilgrim'",
    )) as [[number]];
    await expect.poll(() => panel.locator('tbody tr').first().innerText()).toContain(`${worst} min`);
    await panel.getByRole('button', { name: 'Record' }).first().click();
    await panel.getByLabel('Record 1').getByText(`${worst} min`).waitFor();
    await expect.poll(() => seriousFaults(page)).toEqual([]);
    // What a column lets through is asked of the service, and is what is saved.
    await panel.locator('[data-column=delay]').hover();
    await panel.getByRole('button', { name: 'Column Delay' }).click();
    await page.getByLabel('At least', { exact: false }).fill('30');
    await page.keyboard.press('Escape');
    const late = await sailings("v.name = 'Grey Pilgrim' AND delay_min >= 30");
    expect(late).toBeLessThan(count);
    await panel.getByText(new RegExp(`of ${late.toLocaleString('en-US')} rows, of those that the columns`)).waitFor();
    await panel.getByRole('button', { name: /^Route/ }).click({ modifiers: ['Shift'] });
    await expect.poll(() => panel.locator('[data-column=route]').innerText()).toContain('2');
    await panel.getByRole('button', { name: 'Show all' }).click();
    await panel.getByText(`1 to 50 of ${count.toLocaleString('en-US')} rows`).waitFor();
    const file = page.waitForEvent('download');
    await panel.getByRole('button', { name: 'CSV' }).click();
    const text = readFileSync(await (await file).path(), 'utf8')
      .trim()
      .split('\n');
    expect(text.length).toBe(count + 1);
    expect(text[0]).toContain('Vessel (key),Vessel,');
    await panel.getByText(`The file has all ${count.toLocaleString('en-US')} rows.`).waitFor();
  });

  test('a link opens the same state under the rights of who opens it, without rows where these are not granted', async () => {
    const state = {
      span: { range: { from: '2025-01-06', to: '2025-07-07' }, members: [] },
      areas: { members: [], path: ['North Reach'] },
    };
    const { page } = await demo.as('skerrin-desk', link(state));
    await settled(page);
    expect(await figure(page, 'counted')).toBe(
      await sailings(
        "departed_at >= '2025-01-06' AND departed_at < '2025-07-07' AND r.sea_area = 'North Reach' AND r.home_port = 'SKE'",
      ),
    );
    await tile(page, 'vessels').getByRole('button', { name: /^Menu/ }).click();
    await page.getByRole('menuitem', { name: 'Where this comes from' }).waitFor();
    expect(await page.getByRole('menuitem', { name: /Rows behind/ }).count()).toBe(0);
  });

  test.each(['watch', 'conditions'])('the tab %s has no serious fault of accessibility', async (tab) => {
    const { page } = await demo.as('director', `/d/punctuality?tab=${tab}`);
    await settled(page);
    await expect.poll(() => seriousFaults(page)).toEqual([]);
  });
});
