import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { Demo, seriousFaults, settled, takeUp, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

const tabs = (page: Page) => page.getByRole('tab').allInnerTexts();
const menuOf = async (page: Page, tab: string, item: string) => {
  await page.getByRole('tab', { name: tab }).click();
  await page.getByRole('button', { name: `Change the tab ${tab}` }).click();
  await page.getByRole('menuitem', { name: item }).click();
};
/** Waits until the tabs are these: an edit is shown once the service has it. */
const tabsAre = (page: Page, names: string[]) => expect.poll(() => tabs(page), { timeout: 180_000 }).toEqual(names);

describe('A view of one\u2019s own', () => {
  test('tabs are renamed, hidden, dragged and found again, and every step can be gone back to', async () => {
    const { page } = await demo.as('north-ports', '/d/network');
    await settled(page);
    await page.getByRole('button', { name: 'Arrange' }).click();
    await page.getByRole('button', { name: 'Done' }).waitFor();

    await menuOf(page, 'Overview', 'Rename for me');
    await page.getByRole('textbox', { name: 'Title' }).fill('At a glance');
    await page.getByRole('button', { name: 'Rename', exact: true }).click();
    await tabsAre(page, ['At a glance', 'Punctuality', 'Weather and fuel']);

    await page.getByRole('tab', { name: 'Weather and fuel' }).dragTo(page.getByRole('tab', { name: 'At a glance' }));
    await tabsAre(page, ['Weather and fuel', 'At a glance', 'Punctuality']);

    await menuOf(page, 'Punctuality', 'Hide');
    await tabsAre(page, ['Weather and fuel', 'At a glance']);
    // The open tab went: another is open in its place.
    await expect.poll(() => page.getByRole('tab', { selected: true }).innerText()).toBe('Weather and fuel');

    // Another window of the same viewer has it so too.
    const other = await demo.as('north-ports', '/d/network');
    await settled(other.page);
    expect(await tabs(other.page)).toEqual(['Weather and fuel', 'At a glance']);

    await page.getByRole('button', { name: 'Hidden (1)' }).click();
    await page.getByRole('menuitem', { name: 'Show the tab Punctuality' }).click();
    await tabsAre(page, ['Weather and fuel', 'At a glance', 'Punctuality']);

    await page.getByRole('button', { name: 'Steps' }).click();
    const steps = page.getByRole('list', { name: 'Steps' }).getByRole('button');
    await expect.poll(() => steps.count()).toBe(5);
    expect((await steps.allInnerTexts()).map((t) => t.split('\n')[0])).toEqual([
      'Showed the tab Punctuality again',
      'Hid the tab Punctuality',
      'Put the tabs in another order',
      'Called the tab Overview At a glance',
      'The opening view',
    ]);
    await expect.poll(() => seriousFaults(page)).toEqual([]);
    await steps.nth(3).click();
    await tabsAre(page, ['At a glance', 'Punctuality', 'Weather and fuel']);
    await steps.nth(4).click();
    await tabsAre(page, ['Overview', 'Punctuality', 'Weather and fuel']);
    await steps.nth(0).click();
    await tabsAre(page, ['Weather and fuel', 'At a glance', 'Punctuality']);
    await page.getByRole('button', { name: 'Close' }).click();

    await page.getByRole('dialog').waitFor({ state: 'detached' });
    await page.keyboard.press('Control+z');
    await tabsAre(page, ['Weather and fuel', 'At a glance']);
    await page.keyboard.press('Control+Shift+z');
    await tabsAre(page, ['Weather and fuel', 'At a glance', 'Punctuality']);
    await menuOf(page, 'At a glance', 'Call it Overview again');
    await tabsAre(page, ['Weather and fuel', 'Overview', 'Punctuality']);
    await page.reload();
    await settled(page);
    expect(await tabs(page)).toEqual(['Weather and fuel', 'Overview', 'Punctuality']);
  });

  test('a tile that is dropped on a tab stands on it', async () => {
    const { page } = await demo.as('skerrin-desk', '/d/network');
    await settled(page);
    await page.getByRole('button', { name: 'Arrange' }).click();
    await page.getByRole('button', { name: 'Done' }).waitFor();
    await takeUp(page, tile(page, 'passengers').locator('[data-handle]'));
    const target = await page.getByRole('tab', { name: 'Punctuality' }).boundingBox();
    if (!target) throw new Error('There is nowhere to drop it.');
    await page.mouse.move(target.x + target.width / 2, target.y + target.height / 2, { steps: 8 });
    await page.mouse.up();
    await tile(page, 'passengers').waitFor({ state: 'detached' });
    await page.getByRole('tab', { name: 'Punctuality' }).click();
    await tile(page, 'passengers').waitFor();
  });

  test('a tile of a catalogue is dropped where it is wanted, and the tiles of a section flow into columns', async () => {
    const { page } = await demo.as('developer', '/d/bridge');
    await settled(page);
    await page.getByRole('button', { name: 'Arrange' }).click();
    await page.getByRole('button', { name: 'Add tiles' }).click();
    const offer = page.getByRole('dialog').getByRole('listitem').filter({ hasText: 'Income' }).first();
    // Once the sheet has come to rest.
    await offer.hover({ position: { x: 80, y: 12 } });
    const [from, to] = [await offer.boundingBox(), await tile(page, 'sailings').boundingBox()];
    if (!from || !to) throw new Error('There is nothing to drag.');
    await page.mouse.down();
    await page.mouse.move(from.x - 40, from.y + 20, { steps: 4 });
    // The place where it would come to lie is shown before it is let go.
    await expect
      .poll(async () => {
        await page.mouse.move(to.x + to.width * 0.7 + 8 * Math.random(), to.y + 90);
        return page.locator('.react-grid-placeholder').count();
      })
      .toBe(1);
    // The browser drops only where it has heard that it may; where the machine is slow it lets go before that, and the hand tries again.
    await page.evaluate(() => {
      for (const event of ['drop', 'dragend'])
        document.addEventListener(event, () => document.body.setAttribute(`data-${event}`, ''), true);
    });
    const happened = (event: string) => page.locator(`body[data-${event}]`).count();
    await expect
      .poll(async () => {
        await page.mouse.move(to.x + to.width * 0.7 + 8 * Math.random(), to.y + 90);
        await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
        await page.mouse.up();
        await expect.poll(() => happened('dragend')).toBe(1);
        if ((await happened('drop')) === 1) return true;
        await expect.poll(() => page.locator('.react-grid-placeholder').count()).toBe(0);
        await page.evaluate(() => document.body.removeAttribute('data-dragend'));
        await offer.hover({ position: { x: 80, y: 12 } });
        await page.mouse.down();
        await page.mouse.move(from.x - 40, from.y + 20, { steps: 4 });
        await page.mouse.move(to.x + to.width * 0.7, to.y + 90, { steps: 4 });
        return false;
      })
      .toBe(true);
    const added = page.locator('[data-tile^=own-]');
    await added.waitFor();
    await page.getByRole('button', { name: 'Close' }).click();
    const place = async (name: string) => (await tile(page, name).boundingBox()) ?? { x: 0, y: 0 };
    const own = await added.boundingBox();
    expect(Math.abs((own?.x ?? 0) - to.x)).toBeLessThan(100);
    expect((await place('sailings')).y).toBeGreaterThan(to.y);

    await page.getByRole('button', { name: 'Columns of the section In figures' }).click();
    await page.getByRole('menuitem', { name: 'In 2 columns' }).click();
    await expect
      .poll(async () => new Set((await Promise.all(['sailings', 'carried', 'late'].map(place))).map((p) => p.x)).size)
      .toBe(2);
    await expect.poll(() => seriousFaults(page)).toEqual([]);
  });

  test('what is hidden by the legend lasts for the visit until it is kept', async () => {
    const { page } = await demo.as('developer', '/d/atlas');
    await settled(page);
    const legend = () => page.getByRole('group', { name: 'Legend of Sailings by sea area and class' });
    const hidden = () => legend().locator('[aria-pressed=false]').allInnerTexts();
    await legend().getByRole('button', { name: 'Swift' }).click();
    expect(await hidden()).toEqual(['Swift']);
    // It stays so while another tab is looked at, and goes with the visit.
    await page.getByRole('tab', { name: 'In time' }).click();
    await page.getByRole('tab', { name: 'Compare' }).click();
    await expect.poll(hidden).toEqual(['Swift']);
    await page.reload();
    await settled(page);
    expect(await hidden()).toEqual([]);
    await legend().getByRole('button', { name: 'Swift' }).click();
    await page.getByRole('button', { name: 'this visit' }).click();
    await page.getByRole('button', { name: 'Keep in my view' }).click();
    await page.getByRole('button', { name: 'my view', exact: true }).waitFor();
    await page.reload();
    await settled(page);
    expect(await hidden()).toEqual(['Swift']);
    await page.getByRole('button', { name: 'my view', exact: true }).click();
    await page.getByRole('dialog').getByText('Hidden by the legend: Swift.').waitFor();
    await page.getByRole('button', { name: 'As it was defined' }).click();
    await expect.poll(hidden).toEqual([]);
    await expect.poll(() => page.getByRole('button', { name: 'my view', exact: true }).count()).toBe(0);
  });

  test('views with names are made, opened first, edited apart, removed and brought back', async () => {
    const { page } = await demo.as('developer', '/d/network');
    await settled(page);
    const view = (title: string) => page.getByRole('button', { name: `View: ${title}` });
    const choose = async (from: string, item: string) => {
      await view(from).click();
      await page.getByRole('menuitem', { name: item }).click();
    };
    await choose('As published', 'New view as published');
    await page.getByRole('textbox', { name: 'Name' }).fill('Winter');
    await page.getByRole('button', { name: 'Make it' }).click();
    await view('Winter').waitFor();
    await settled(page);
    await page.getByRole('button', { name: 'Arrange' }).click();
    await page.getByRole('button', { name: 'Done' }).waitFor();
    await menuOf(page, 'Overview', 'Rename for me');
    await page.getByRole('textbox', { name: 'Title' }).fill('Cold months');
    await page.getByRole('button', { name: 'Rename', exact: true }).click();
    await tabsAre(page, ['Cold months', 'Punctuality', 'Weather and fuel']);
    await page.getByRole('button', { name: 'Done' }).click();
    // A pick belongs to the address, which names the view too.
    await page.getByRole('tab', { name: 'Punctuality' }).click();
    await expect.poll(() => new URL(page.url()).searchParams.get('view')).toBe('view-1');

    await choose('Winter', 'My view');
    await tabsAre(page, ['Overview', 'Punctuality', 'Weather and fuel']);
    await choose('As published', 'Winter');
    await tabsAre(page, ['Cold months', 'Punctuality', 'Weather and fuel']);
    await choose('Winter', 'Open Winter first');
    const again = await demo.as('developer', '/d/network');
    await settled(again.page);
    expect(await tabs(again.page)).toEqual(['Cold months', 'Punctuality', 'Weather and fuel']);
    await page.goto(demo.url);
    await page.getByRole('link', { name: 'Winter' }).click();
    await view('Winter').waitFor();
    await expect.poll(() => seriousFaults(page)).toEqual([]);

    await choose('Winter', 'Rename');
    await page.getByRole('textbox', { name: 'Name' }).fill('Winter timetable');
    await page.getByRole('button', { name: 'Rename', exact: true }).click();
    await view('Winter timetable').waitFor();
    await choose('Winter timetable', 'Remove Winter timetable');
    await view('As published').waitFor();
    await page.getByText('Winter timetable is removed.').waitFor();
    await page.getByRole('button', { name: 'Undo' }).click();
    await view('Winter timetable').waitFor();
    await tabsAre(page, ['Cold months', 'Punctuality', 'Weather and fuel']);

    await page.goto(`${demo.url}/d/network?view=view-9`);
    await page.getByRole('link', { name: 'Open the dashboard without it' }).click();
    await settled(page);
    await view('As published').waitFor();
  });

  test('a view is shared with a person, who sees what they may, makes their own of it, and loses it when it is withdrawn', async () => {
    const { page } = await demo.as('director', '/d/network');
    await settled(page);
    await page.getByRole('button', { name: 'View: As published' }).click();
    await page.getByRole('menuitem', { name: 'New view as published' }).click();
    await page.getByRole('textbox', { name: 'Name' }).fill('Money');
    await page.getByRole('button', { name: 'Make it' }).click();
    await page.getByRole('button', { name: 'View: Money' }).waitFor();
    await settled(page);
    await page.getByRole('button', { name: 'Arrange' }).click();
    await page.getByRole('button', { name: 'Done' }).waitFor();
    await menuOf(page, 'Overview', 'Rename for me');
    await page.getByRole('textbox', { name: 'Title' }).fill('Money first');
    await page.getByRole('button', { name: 'Rename', exact: true }).click();
    await tabsAre(page, ['Money first', 'Punctuality', 'Weather and fuel']);
    await page.getByRole('button', { name: 'Done' }).click();
    await page.getByRole('button', { name: 'View: Money' }).click();
    await page.getByRole('menuitem', { name: 'Who can see it' }).click();
    const dialog = page.getByRole('dialog', { name: 'Who can see Money' });
    await dialog.getByText('Only you.').waitFor();
    await dialog.getByRole('combobox', { name: 'Share it with' }).click();
    await page.getByRole('option', { name: 'Auditor' }).last().click();
    await dialog.getByRole('button', { name: 'Share', exact: true }).click();
    await dialog.getByRole('list', { name: 'Who can see it' }).getByText('Auditor').waitFor();
    await expect.poll(() => seriousFaults(page)).toEqual([]);

    const other = await demo.as('auditor', '/d/network');
    await settled(other.page);
    await other.page.getByRole('button', { name: 'View:' }).click();
    await other.page.getByRole('menuitem', { name: 'Money of Director' }).click();
    await other.page.getByRole('button', { name: 'View: Money of Director' }).waitFor();
    await tabsAre(other.page, ['Money first', 'Punctuality', 'Weather and fuel']);
    expect(await other.page.getByRole('button', { name: 'Arrange' }).count()).toBe(0);

    // What its owner does to it now stands before whoever looks, without a reload.
    await page.keyboard.press('Escape');
    await dialog.waitFor({ state: 'hidden' });
    await page.getByRole('button', { name: 'Arrange' }).click();
    await page.getByRole('button', { name: 'Done' }).waitFor();
    await menuOf(page, 'Money first', 'Rename for me');
    await page.getByRole('textbox', { name: 'Title' }).fill('Money last');
    await page.getByRole('button', { name: 'Rename', exact: true }).click();
    await tabsAre(other.page, ['Money last', 'Punctuality', 'Weather and fuel']);
    await page.getByRole('button', { name: 'Done' }).click();
    await page.getByRole('button', { name: 'View: Money' }).click();
    await page.getByRole('menuitem', { name: 'Who can see it' }).click();
    await dialog.getByRole('button', { name: 'Withdraw from Auditor' }).click();
    await dialog.getByText('Only you.').waitFor();
    await other.page.reload();
    await other.page.getByRole('link', { name: 'Open the dashboard without it' }).click();
    await settled(other.page);
    await tabsAre(other.page, ['Overview', 'Punctuality', 'Weather and fuel']);
  });
});
