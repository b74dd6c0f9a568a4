import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { Demo, seriousFaults, settled, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

const shown = (page: Page) =>
  page.locator('[data-tile]').evaluateAll((all) => all.map((t) => t.getAttribute('data-tile')));
const choose = async (page: Page, button: string, item: string) => {
  await page.getByRole('button', { name: button }).click();
  await page.getByRole('menuitem', { name: item, exact: true }).click();
};
const arrange = async (page: Page) => {
  await page.getByRole('button', { name: 'Arrange' }).click();
  await page.getByRole('button', { name: 'Done' }).waitFor();
};
const saved = (page: Page) => page.locator('[data-saving=saved]', { hasText: 'Saved.' }).waitFor();

/** The tiles that the page has asked the service for, in order. */
function questions(page: Page): string[] {
  const asked: string[] = [];
  page.on('request', (r) => {
    if (r.method() === 'POST' && /\/results$/.test(r.url())) {
      const { tiles } = JSON.parse(r.postData() ?? '{}') as { tiles: string[] | null };
      asked.push(...(tiles ?? []));
    }
  });
  return asked;
}

describe('A layout', () => {
  test('has areas, tabs, a side panel and sections that fold, and asks only for what is open', async () => {
    const { page } = await demo.as('north-ports', '/d/bridge');
    const asked = questions(page);
    await page.reload();
    await settled(page);
    expect(asked).toContain('by-area');
    for (const elsewhere of ['vessels', 'delays', 'by-hour', 'by-channel']) expect(asked).not.toContain(elsewhere);

    const section = page.getByRole('button', { name: 'Vessel by vessel' });
    expect(await section.getAttribute('aria-expanded')).toBe('false');
    await section.click();
    await settled(page);
    await expect.poll(() => asked).toContain('vessels');
    await page.getByRole('button', { name: 'In figures' }).click();
    expect(await shown(page)).not.toContain('carried');
    // Which are folded is remembered; what filters acts whether they are or not.
    await page.reload();
    await settled(page);
    expect(await shown(page)).toContain('vessels');
    expect(await shown(page)).not.toContain('carried');
    await page.getByRole('button', { name: 'Fold the controls away' }).click();
    expect(await shown(page)).not.toContain('sea-area');

    await page.getByRole('button', { name: 'Money' }).click();
    await settled(page);
    expect(await page.getByRole('tab').allInnerTexts()).toEqual(['What comes in']);
    expect(await page.getByRole('button', { name: 'Money' }).getAttribute('aria-pressed')).toBe('true');
    await page.getByRole('button', { name: 'Traffic' }).click();
    await settled(page);
    await expect.poll(() => seriousFaults(page)).toEqual([]);
  });

  test('says what it is for and where its data come from, folded after the first visit', async () => {
    const { page } = await demo.as('auditor', '/d/bridge');
    const about = page.getByRole('region', { name: 'About this dashboard' });
    await about.getByText('One page for the day').waitFor();
    expect(await about.locator('strong').innerText()).toBe('Made up');
    await page.reload();
    await settled(page);
    expect(await about.count()).toBe(0);
    await page.getByRole('button', { name: 'About this dashboard' }).click();
    await about.waitFor();
    // An image of the workspace is drawn, and said in words.
    const sketch = page.getByRole('img', { name: 'A sketch of the five larger isles' });
    await expect.poll(() => sketch.evaluate((i) => (i as HTMLImageElement).naturalWidth)).toBeGreaterThan(0);
    await expect.poll(() => seriousFaults(page)).toEqual([]);
  });

  test('says in words what is picked, with the figures of it, and links from there', async () => {
    const { page } = await demo.as('director', '/d/bridge');
    await settled(page);
    const words = tile(page, 'briefing');
    await words.getByText('every sea area').waitFor();
    const all = await words.getByRole('heading', { level: 2, name: /sailings/ }).innerText();
    await tile(page, 'sea-area').getByRole('combobox').click();
    await page.getByRole('option', { name: 'North Reach', exact: true }).click();
    await words.locator('strong', { hasText: 'North Reach' }).waitFor();
    const [[count]] = (await demo.sql(
      "SELECT count(*) FROM sailing JOIN route ON sailing.route_id = route.id WHERE route.sea_area = 'North Reach'",
    )) as [[bigint]];
    const heading = words.getByRole('heading', { level: 2, name: /sailings/ });
    expect(await heading.innerText()).toContain(`${Number(count).toLocaleString('en-US')} sailings`);
    expect(await heading.innerText()).not.toBe(all);
    await words.getByRole('link', { name: 'how late they were' }).click();
    await tile(page, 'by-hour').waitFor();
    expect(await page.getByRole('tab', { selected: true }).innerText()).toBe('Hours');
  });

  test('fills the window where that is meant, is one column on a narrow screen, and no figure runs over its title', async () => {
    const { page } = await demo.as('director', '/d/bridge?tab=hours');
    for (const [width, height] of [
      [1280, 800],
      [1920, 1080],
    ] as const) {
      await page.setViewportSize({ width, height });
      await settled(page);
      await expect
        .poll(() =>
          page.evaluate(() => document.querySelector('[data-tile=spread]')?.getBoundingClientRect().bottom ?? 0),
        )
        .toBeGreaterThan(height - 40);
      expect(await page.evaluate(() => document.documentElement.scrollHeight)).toBeLessThanOrEqual(height);
    }
    await page.setViewportSize({ width: 390, height: 844 });
    await page.goto(`${demo.url}/d/bridge`);
    await settled(page);
    const boxes = await page
      .locator('[data-tile]')
      .evaluateAll((all) => all.map((t) => t.getBoundingClientRect()).map((b) => ({ left: b.left, width: b.width })));
    expect(new Set(boxes.map((b) => Math.round(b.left))).size).toBe(1);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    expect(await page.locator('header h1').innerText()).toBe('On the bridge');
    for (const width of [390, 1280]) {
      await page.setViewportSize({ width, height: 800 });
      const overlaps = await page.locator('[data-picture=number]').evaluateAll(
        (all) =>
          all.filter((t) => {
            const [title, figure] = [t.querySelector('h2'), t.querySelector('[data-figure]')];
            return title && figure && figure.getBoundingClientRect().top < title.getBoundingClientRect().bottom - 1;
          }).length,
      );
      expect(overlaps).toBe(0);
    }
  });
});

describe('What viewers make of it', () => {
  test('tiles are added from a catalogue, put into columns, copied and undone, and stand in another window at once', async () => {
    const { page } = await demo.as('north-ports', '/d/bridge?tab=hours');
    await settled(page);
    const other = await page.context().newPage();
    await other.goto(`${demo.url}/d/bridge?tab=hours`);
    await settled(other);
    await arrange(page);

    await page.getByRole('button', { name: 'Add tiles' }).click();
    await page.getByRole('textbox', { name: 'Find' }).fill('channel');
    await page.getByRole('button', { name: 'Add Takings by channel' }).click();
    await page.getByText('Takings by channel was added to Hours.').waitFor();
    await expect.poll(() => seriousFaults(page)).toEqual([]);
    await page.getByRole('button', { name: 'Close' }).click();
    await tile(page, 'own-takings-by-channel-1').waitFor();
    await saved(page);
    // The other window shows it without being asked to.
    await tile(other, 'own-takings-by-channel-1').waitFor();

    await page.getByRole('button', { name: 'Change the tab Hours' }).click();
    await page.getByRole('menuitem', { name: 'In 3 columns' }).click();
    const places = () =>
      page
        .locator('[data-tile]')
        .evaluateAll((all) => new Set(all.map((t) => Math.round(t.getBoundingClientRect().width))).size);
    await expect.poll(places).toBe(1);
    await choose(page, 'Menu of Takings by channel', 'Give it a title');
    await page.getByRole('textbox', { name: 'Title' }).fill('How we sold');
    await page.getByRole('button', { name: 'Rename', exact: true }).click();
    await page.getByRole('heading', { name: 'How we sold' }).waitFor();
    await choose(page, 'Menu of How we sold', 'Copy');
    await expect.poll(() => page.getByRole('heading', { name: 'How we sold' }).count()).toBe(2);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect.poll(() => page.getByRole('heading', { name: 'How we sold' }).count()).toBe(1);
    await expect.poll(() => other.getByRole('heading', { name: 'How we sold' }).count()).toBe(1);

    await page.getByRole('button', { name: 'Begin anew' }).click();
    await page.getByRole('menuitem', { name: 'Back to the opening view, with what I added' }).click();
    await expect.poll(places).toBeGreaterThan(1);
    await page.getByRole('heading', { name: 'How we sold' }).waitFor();
    await page.getByRole('button', { name: 'Done' }).click();
    await page.reload();
    await settled(page);
    await page.getByRole('heading', { name: 'How we sold' }).waitFor();
  });

  test('a change that can not be stored now is held, said, and stored once the service is back', async () => {
    const { page, context } = await demo.as('developer', '/d/bridge?tab=hours');
    await settled(page);
    await arrange(page);
    await context.route('**/view/edits**', (route) => route.abort());
    await choose(page, 'Menu of How late sailings left', 'Hide');
    await choose(page, 'Menu of Cancellations by reason', 'Hide');
    await page.locator('[data-saving=held]', { hasText: '2 changes are not saved yet' }).waitFor();
    expect(await shown(page)).toContain('spread');
    await context.unroute('**/view/edits**');
    await tile(page, 'spread').waitFor({ state: 'detached' });
    await tile(page, 'reasons').waitFor({ state: 'detached' });
    await saved(page);
  });

  test('a tile is drawn otherwise for the visit, kept in the view, and led back to how it was defined', async () => {
    const { page } = await demo.as('north-ports', '/d/bridge');
    await settled(page);
    await choose(page, 'Menu of Late by month', 'Draw otherwise');
    const kinds = page.getByRole('group', { name: 'Kind of picture' });
    await kinds.getByText('A heatmap takes 2 fields; here is 1.').waitFor();
    await kinds.getByRole('button', { name: 'table', exact: true }).click();
    await tile(page, 'by-month').locator('table').waitFor();
    await tile(page, 'by-month').getByText('this visit').waitFor();
    await expect.poll(() => seriousFaults(page)).toEqual([]);
    // An address has it, for whoever opens it; without it the tile is as it was.
    expect(new URL(page.url()).searchParams.get('set')).toContain('draw:by-month');
    const { page: other } = await demo.as('director', `/d/bridge${new URL(page.url()).search}`);
    await settled(other);
    await tile(other, 'by-month').locator('table').waitFor();

    await page.getByRole('button', { name: 'Keep in my view' }).click();
    await tile(page, 'by-month').getByText('my view').waitFor();
    await page.goto(`${demo.url}/d/bridge`);
    await settled(page);
    await tile(page, 'by-month').locator('table').waitFor();
    await tile(page, 'by-month').getByText('my view').click();
    await page.getByRole('button', { name: 'As it was defined' }).click();
    await page.getByText('Drawn as it was defined.').waitFor();
    await expect.poll(() => tile(page, 'by-month').locator('table').count()).toBe(0);
  });

  test('what no longer fits a tile that is drawn by another field is let go and said; what is fixed offers nothing', async () => {
    const { page } = await demo.as('director', '/d/bridge');
    await settled(page);
    const bars = tile(page, 'by-area').getByRole('listbox');
    await bars.focus();
    await page.keyboard.press('Enter');
    await page.getByRole('group', { name: 'Picks' }).waitFor();
    await choose(page, 'Menu of Late by sea area', 'Draw otherwise');
    await page.getByRole('combobox', { name: 'By', exact: true }).click();
    await page.keyboard.press('Backspace');
    await page.getByRole('option', { name: 'Home port' }).click();
    await page.getByText('What was picked on Late by sea area no longer fits and was let go.').waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Close' }).click();
    await arrange(page);
    await page.getByRole('button', { name: 'Menu of', exact: true }).first().click();
    await page.getByText('It stays where its developer has it.').waitFor();
    expect(await page.getByRole('menuitem', { name: 'Hide' }).count()).toBe(0);
  });
});

describe('A morning on the bridge', () => {
  test('goes from the opening view of a role to a page of one\u2019s own and back, and its figures are read anew by themselves', async () => {
    const { page } = await demo.as('skerrin-desk', '/');
    // Time can be let pass.
    await page.clock.install();
    const asked = questions(page);
    await page.goto(`${demo.url}/d/bridge`);
    await settled(page);
    // The role's opening view: another drawing, a tile of another tab, one of a catalogue, and one tab less.
    await tile(page, 'reasons').waitFor();
    await tile(page, 'desk-quarters').waitFor();
    expect(await page.getByRole('button', { name: 'Money' }).count()).toBe(0);
    // Routes are keys with names from a lookup: what is picked of them filters the others.
    const figure = tile(page, 'sailings').locator('[data-figure]').first();
    const all = await figure.innerText();
    await tile(page, 'by-area').getByRole('listbox').focus();
    await page.keyboard.press('Enter');
    await page.getByRole('group', { name: 'Picks' }).getByText('Skerrin–').waitFor();
    await expect.poll(() => figure.innerText()).not.toBe(all);
    // Sections fold, several stay open.
    await page.getByRole('button', { name: 'Vessel by vessel' }).click();
    await tile(page, 'vessels').waitFor();
    await tile(page, 'by-month').waitFor();

    // An empty tab, two tiles put on it, in one column; each change is saved as it is made.
    await arrange(page);
    await page.getByRole('button', { name: 'Add tab' }).click();
    await page.getByRole('textbox', { name: 'Title' }).fill('Mornings');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    const mine = page.getByRole('tab', { name: 'Mornings', selected: true });
    await mine.waitFor();
    await page.getByRole('button', { name: 'Add tiles' }).click();
    for (const title of ['Passengers carried', 'Late by weekday and hour']) {
      await page.getByRole('textbox', { name: 'Find' }).fill(title);
      await page.getByRole('button', { name: `Add ${title}`, exact: true }).click();
      await page.getByText(`${title} was added to Mornings.`).waitFor();
    }
    await page.getByRole('button', { name: 'Close' }).click();
    const added = page.locator('[data-tile^=own-]');
    await expect.poll(() => added.count()).toBe(2);
    await page.getByRole('button', { name: 'Change the tab Mornings' }).click();
    await page.getByRole('menuitem', { name: 'In one column' }).click();
    const wide = () => added.evaluateAll((them) => them.map((t) => Math.round(t.getBoundingClientRect().width)));
    await expect.poll(async () => new Set(await wide()).size).toBe(1);
    const [before] = await wide();
    await page.keyboard.press('Control+z');
    await expect.poll(async () => (await wide()).every((w) => w < (before ?? 0))).toBe(true);
    await page.keyboard.press('Control+Shift+z');
    await expect.poll(async () => (await wide()).every((w) => w === before)).toBe(true);
    await saved(page);
    await page.getByRole('button', { name: 'Done' }).click();

    // Back to the role's view, with what was added; the tab is still there, and the pick still filters it.
    await arrange(page);
    await page.getByRole('button', { name: 'Begin anew' }).click();
    await page.getByRole('menuitem', { name: 'Back to the opening view, with what I added' }).click();
    await page.getByRole('button', { name: 'Done' }).click();
    await page.getByRole('tab', { name: 'The watch' }).click();
    await tile(page, 'reasons').waitFor();
    await page.getByRole('tab', { name: 'Mornings' }).waitFor();
    await page.getByRole('group', { name: 'Picks' }).getByText('Skerrin–').waitFor();

    await settled(page);
    asked.length = 0;
    await page.clock.fastForward(61_000);
    await expect.poll(() => asked).toContain('late');
    expect(asked).not.toContain('by-month');
  });
});

describe('An opening view', () => {
  test('is made of a view, found at once by whoever changed nothing, and taken tile by tile by others', async () => {
    const [director, developer] = [await demo.client('director'), await demo.client('developer')];
    const bridge = '/api/dashboards/bridge';
    const place = { column: 0, row: 6, width: 12, height: 3 };
    // Somebody has put a tile elsewhere before.
    const moved = { edit: 'place', tab: 'hours', tiles: [{ tile: 'reasons', place }] };
    expect((await director(`${bridge}/view/edits`, moved)).status).toBe(200);
    const made = await developer(`${bridge}/views`, { title: 'For all', fromOpening: true });
    const { view } = (await made.json()) as { view: string };
    const edit = { edit: 'move', tile: 'reasons', tab: 'watch', section: 'where' };
    expect((await developer(`${bridge}/view/edits?view=${view}`, edit)).status).toBe(200);

    const { page } = await demo.as('developer', `/d/bridge?view=${view}`);
    await settled(page);
    await choose(page, 'View: For all', 'Make it the opening view …');
    await page.getByRole('button', { name: 'Publish' }).click();
    await page.getByText('openings/bridge.yaml').waitFor();
    await page.getByText('{ edit: move, tile: reasons, tab: watch, section: where }').waitFor();
    // What is published is asked for anew, and faint until it is there.
    await expect.poll(() => seriousFaults(page), { timeout: 60_000 }).toEqual([]);

    const { page: fresh } = await demo.as('auditor', '/d/bridge');
    await settled(fresh);
    await tile(fresh, 'reasons').waitFor();

    const { page: told } = await demo.as('director', '/d/bridge');
    await settled(told);
    await told.getByText('Cancellations by reason was changed, where you had changed it: yours stands.').waitFor();
    await told.getByRole('button', { name: 'Look at both' }).click();
    await told.getByRole('img', { name: /^Yours: / }).waitFor();
    expect(await seriousFaults(told)).toEqual([]);
    await told.getByRole('button', { name: 'Take as published: Cancellations by reason' }).click();
    await told.getByText('All that was published stands where it was published.').waitFor();
    await told.getByRole('button', { name: 'Keep mine' }).click();
    await tile(told, 'reasons').waitFor();
    expect(await told.getByText('published anew').count()).toBe(0);
  });
});
