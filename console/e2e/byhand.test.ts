import type { Locator, Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { Demo, figure, seriousFaults, settled, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

/** A hand that counts what it does: clicks, keys, a text that is typed, a drag. */
class Hand {
  gestures = 0;
  constructor(private readonly page: Page) {}
  async click(what: Locator) {
    this.gestures++;
    await what.click();
  }
  async type(where: Locator, text: string) {
    this.gestures += 2;
    await where.fill(text);
    await where.press('Enter');
  }
  /** Chooses in one of the form's places. */
  async choose(place: string, option: string | RegExp) {
    await this.click(this.page.getByRole('combobox', { name: place, exact: true }));
    await this.click(this.page.getByRole('option', { name: option, exact: true }));
  }
  async field(name: string) {
    await this.click(this.page.getByRole('dialog').locator(`[data-field="${name}"]`));
  }
  /** A new tile from measures and fields, as a picture that is proposed for them. */
  async tile(names: string[], picture: string, dataset?: string) {
    await this.click(this.page.getByRole('button', { name: 'New tile' }));
    if (dataset) await this.choose('Measures and fields of', dataset);
    for (const name of names) {
      if (name.includes('.') && !(await this.page.getByRole('dialog').locator(`[data-field="${name}"]`).isVisible()))
        await this.click(this.page.getByRole('dialog').getByRole('button', { name: /other grains of/ }));
      await this.field(name);
    }
    await this.click(this.page.getByRole('button', { name: `Take this ${picture}` }));
    await this.page.getByRole('dialog').waitFor({ state: 'detached' });
    await saved(this.page);
  }
}

/** Takes a field up from the list of fields and begins to carry it. */
async function carry(page: Page, field: string) {
  const from = page.locator(`[data-field="${field}"]`);
  await from.scrollIntoViewIfNeeded();
  const box = await from.boundingBox();
  if (!box) throw new Error('The field is not there.');
  await page.mouse.move(box.x + 20, box.y + 8);
  await page.mouse.down();
  await page.mouse.move(box.x - 40, box.y + 20, { steps: 5 });
}

/** Lets go of it in the middle of a place. */
async function dropOn(page: Page, place: Locator) {
  const to = await place.boundingBox();
  if (!to) throw new Error('There is nowhere to drop it.');
  await page.mouse.move(to.x + to.width / 2, to.y + to.height / 2, { steps: 8 });
  await page.mouse.up();
}

const saved = (page: Page) => expect.poll(() => page.locator('[data-draft]').innerText()).toBe('Draft saved');
const textOf = async (page: Page, dashboard: string) => {
  const answer = await page.request.get(`${demo.url}/api/drafts/dashboards/${dashboard}`);
  return ((await answer.json()) as { text: string }).text;
};

test('A whole dashboard by hand, and the file that it wrote as somebody would have written it', async () => {
  const { page } = await demo.as('developer', '/data');
  const hand = new Hand(page);
  // Where the data are, which rows, what they are called, who may read them.
  await hand.click(page.getByRole('link', { name: 'New dataset' }));
  await hand.click(page.getByRole('button', { name: 'Add a source' }));
  await hand.type(page.getByLabel('Name').first(), 'tills');
  await hand.choose('Engine', /DuckDB/);
  await hand.type(page.getByLabel('File'), 'lantern-isles.duckdb');
  await hand.click(page.getByRole('button', { name: 'Test it' }));
  // What does not come into the team's folder is told.
  const outside = 'sources/tills.yaml is not written into the team’s folder.';
  await page.route(
    '**/api/definitions/file',
    async (route) => {
      const response = await route.fetch();
      await route.fulfill({ response, json: { ...(await response.json()), beside: [outside] } });
    },
    { times: 1 },
  );
  await hand.click(page.getByRole('button', { name: 'Save the source' }));
  await page.getByText(outside).waitFor();
  await hand.click(page.getByText('Write SQL'));
  const sql = page.getByRole('textbox', { name: 'SQL' });
  await hand.click(sql);
  await page.keyboard.insertText(
    `SELECT s.sold_on AS sold, r.name AS route, r.sea_area, s.kind, s.channel, s.amount
FROM ticket_sale s JOIN route r ON r.id = s.route_id`,
  );
  hand.gestures++;
  // However late the first rows come, what stands below them does not move away from the hand.
  const late = new Promise<() => Promise<void>>((hold) =>
    page.route('**/datasets/preview', (route) => hold(() => route.continue()), { times: 1 }),
  );
  await hand.click(page.getByRole('button', { name: 'Read its columns' }));
  const bring = await late;
  const placeOfSave = () =>
    page.getByRole('button', { name: 'Save the dataset' }).evaluate((b) => b.getBoundingClientRect().top + scrollY);
  await page.getByText('Reading the first rows …').waitFor();
  const place = await placeOfSave();
  await bring();
  await page.locator('[data-counts]').waitFor();
  expect(Math.abs((await placeOfSave()) - place)).toBeLessThan(40);
  await hand.type(page.getByLabel('Name of measure 2'), 'takings');
  await hand.click(page.getByRole('button', { name: 'Add a measure' }));
  await hand.type(page.getByLabel('Name of measure 3'), 'web_share');
  await hand.type(page.getByLabel('Formula of measure 3'), "sum(amount) filter (where channel = 'web') / sum(amount)");
  await hand.type(page.getByLabel('Name', { exact: true }), 'till_sales');
  await hand.type(page.getByLabel('Title', { exact: true }), 'Sold at tills');
  await hand.click(page.getByRole('button', { name: 'Save the dataset' }));
  await hand.click(page.getByRole('combobox', { name: 'Who may read it' }));
  await hand.click(page.getByRole('option', { name: 'developer' }));
  await page.keyboard.press('Escape');
  hand.gestures++;
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await hand.click(page.getByRole('button', { name: 'Let them read it' }));
  await page.getByText('The role developer may read it now.').waitFor();
  await hand.click(page.getByRole('link', { name: 'a dashboard' }));
  await hand.click(page.getByRole('button', { name: 'New dashboard' }));
  await hand.type(page.getByLabel('Title'), 'Isle audit');
  await hand.choose('It begins with', 'An empty page');
  await hand.click(page.getByRole('button', { name: 'Begin the draft' }));
  await page.waitForURL('**/d/isle-audit/design');
  await page.getByText('There is nothing on this tab.').waitFor();

  // A pie on which several can be picked, a line for each year by quarter, an average that follows nothing.
  await hand.tile(['takings', 'kind'], 'pie', 'Sold at tills');
  await settled(page);
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await hand.tile(['takings', 'sold.quarter_of_year', 'sold.year'], 'line');
  await hand.tile(['web_share'], 'number');
  await hand.choose('follows', 'none');
  await saved(page);

  // The ten first of a table with coloured cells, in a group with a list.
  await hand.tile(['takings', 'web_share', 'route'], 'table');
  await hand.type(page.getByRole('textbox', { name: 'the first' }), '10');
  await expect.poll(() => textOf(page, 'isle-audit')).toContain('top: { count: 10 }');
  await hand.click(page.getByRole('button', { name: /^More/ }));
  await hand.type(page.getByRole('combobox', { name: 'cells of' }), 'web_share');
  await hand.choose('web share', 'scale');
  await expect.poll(() => textOf(page, 'isle-audit')).toContain('cells:');
  await hand.choose('in the group', 'A new group …');
  await hand.type(page.getByLabel('What the group is called'), 'Routes by sea area');
  await expect.poll(() => textOf(page, 'isle-audit')).toContain('group: routes-by-sea-area');
  await hand.click(page.getByRole('button', { name: 'New tile' }));
  await hand.field('sea_area');
  await hand.click(page.getByRole('button', { name: 'Take this bar' }));
  await page.getByRole('dialog').waitFor({ state: 'detached' });
  await hand.choose('draws', 'list');
  // What a list has no room for is named, and goes only when that is accepted.
  const kept = page.getByRole('alert').filter({ hasText: 'As list it has no room for' });
  await kept.waitFor();
  expect(await textOf(page, 'isle-audit')).not.toContain('picture: list');
  await hand.click(page.getByRole('button', { name: 'Change it and leave that out' }));
  await hand.choose('in the group', 'Routes by sea area');
  await expect.poll(async () => (await textOf(page, 'isle-audit')).split('group: routes-by-sea-area').length).toBe(4);

  // A picture of ranges, and what all of it is called.
  await hand.tile(['amount'], 'histogram');
  await hand.click(page.getByRole('button', { name: /^Done with/ }));
  await hand.type(page.getByLabel('Title of the tab'), 'Audit');
  await expect.poll(() => textOf(page, 'isle-audit')).toContain('title: Audit');
  await settled(page);
  await hand.click(page.getByRole('button', { name: 'Publish …' }));
  await hand.type(page.getByLabel('Why'), 'For the auditors');
  await hand.click(page.getByRole('button', { name: 'Publish', exact: true }));
  await page.waitForURL('**/d/isle-audit');
  await settled(page);
  expect(hand.gestures).toBeLessThan(90);
  expect(await textOf(page, 'isle-audit')).toBe(`dashboard: isle-audit
title: Isle audit
tabs:
  - tab: overview
    title: Audit
    columns: 3
    groups:
      - { group: routes-by-sea-area, title: Routes by sea area }
    tiles:
      - tile: takings-pie
        picture: pie
        dataset: till_sales
        show: takings
        by: kind
        sort: { by: takings, order: descending }
        top: { count: 10, rest: true }
      - tile: takings-line
        picture: line
        dataset: till_sales
        show: takings
        by: sold.quarter_of_year
        split: sold.year
      - tile: web-share-number
        picture: number
        dataset: till_sales
        show: web_share
        follows: none
      - tile: takings-table
        picture: table
        dataset: till_sales
        show: [takings, web_share]
        by: route
        sort: { by: takings, order: descending }
        top: { count: 10 }
        cells: { web_share: scale }
        group: routes-by-sea-area
      - tile: sea-area-bar
        picture: list
        dataset: till_sales
        by: sea_area
        group: routes-by-sea-area
      - tile: amount-histogram
        picture: histogram
        dataset: till_sales
        by: amount
`);
});

test('What has parts is filled in part by part: lines at values, tips, what is said of each measure', async () => {
  const { page } = await demo.as('developer', '/d/tickets/design');
  await settled(page);
  const before = await textOf(page, 'tickets');
  const form = page.getByRole('region', { name: /^Design of/ });
  const part = (name: string) => form.getByRole('textbox', { name, exact: true });
  const work = async (name: string) => {
    await tile(page, name)
      .getByRole('button', { name: /^Design / })
      .click();
    await form.getByRole('button', { name: /^More/ }).click();
  };
  await work('sold-by-week');
  await form.getByRole('button', { name: 'Add to reference' }).click();
  await part('at').fill('25000');
  await part('at').press('Enter');
  await expect.poll(() => textOf(page, 'tickets')).toMatch(/reference:\n? *(- |\[ ?\{ ?)at: 25000/);
  await expect.poll(() => part('title').count()).toBe(1);
  await part('title').fill('Much');
  await part('title').press('Enter');
  await expect.poll(() => textOf(page, 'tickets')).toMatch(/at: 25000[\s,]+title: Much/);
  await settled(page);
  const tip = form.getByRole('combobox', { name: 'tip' });
  await tip.fill('mean_price');
  await tip.press('Enter');
  await expect.poll(() => textOf(page, 'tickets')).toMatch(/tip: \[mean_price\]|tip:\n *- mean_price/);
  // Faults of a part stand in the list of faults, and what goes with its last part is gone whole.
  await part('at').fill('plenty');
  await part('at').press('Enter');
  await page
    .getByText(/plenty/)
    .first()
    .waitFor();
  await form.getByRole('button', { name: 'Take reference 1 out' }).click();
  await tip.press('Backspace');
  await expect.poll(() => textOf(page, 'tickets')).toBe(before);
  await work('routes');
  const cells = form.getByRole('combobox', { name: 'cells of' });
  await cells.fill('takings');
  await cells.press('Enter');
  await form.getByRole('combobox', { name: 'takings', exact: true }).click();
  await page.getByRole('option', { name: 'scale', exact: true }).click();
  await expect.poll(() => textOf(page, 'tickets')).toMatch(/cells:\s+(\{ )?takings: scale/);
  await settled(page);
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(() => textOf(page, 'tickets')).toBe(before);
});

test('A field that is dragged says what it would become before it is dropped, and what does not fit why', async () => {
  const { page } = await demo.as('developer', '/d/tickets/design');
  await settled(page);
  await tile(page, 'sold-by-week')
    .getByRole('button', { name: /^Design / })
    .click();
  await carry(page, 'channel');
  const zones = tile(page, 'sold-by-week').getByRole('group', { name: /^Drop on/ });
  await zones.getByText('Split by Channel').waitFor();
  await tile(page, 'sold').getByText('Not by: a number is by no field').waitFor();
  await dropOn(page, zones.getByText('Split by Channel'));
  await expect.poll(() => textOf(page, 'tickets')).toContain('        by: sold.week\n        split: channel\n');
  await settled(page);
  await tile(page, 'sold-by-week').getByText('split by channel').waitFor();
  // A click adds what fits: what is split shows one measure.
  await page.locator('[data-field="mean_price"]').click();
  await expect.poll(() => textOf(page, 'tickets')).toContain('show: mean_price\n        by: sold.week');
  // What the form says is what the text says, both ways.
  await page.getByRole('button', { name: 'Show it in the text' }).click();
  const text = page.getByRole('textbox', { name: 'Text of tickets' });
  await expect.poll(() => text.innerText()).toContain('split: channel');
  for (const gone of ['show: mean_price\n        by: sold.week', 'split: channel']) {
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect.poll(() => textOf(page, 'tickets')).not.toContain(gone);
  }
  await page.getByText('By hand').click();
  // Wired by hand: a line is taken away by the pointer, and drawn again by keys.
  await page.getByRole('button', { name: 'Show the wiring (w)' }).click();
  const box2 = async (name: string) => {
    const found = await page.locator(`[data-wire="${name}"]`).boundingBox();
    if (!found) throw new Error(`${name} has no box in the wiring.`);
    return { x: found.x + found.width / 2, y: found.y + found.height / 2 };
  };
  const [a, b] = [await box2('channel'), await box2('routes')];
  await page.mouse.move(a.x, a.y);
  await page.mouse.down();
  await page.mouse.move(b.x, b.y, { steps: 5 });
  await page.getByText('Take the line from channel away').waitFor();
  await page.mouse.up();
  await page.getByText('channel drives routes no more.').waitFor();
  const without = 'drives: [sold, takings, sailed, sold-by-terminal, sold-by-week]';
  expect(await textOf(page, 'tickets')).toContain(without);
  await page.locator('[data-wire="channel"]').focus();
  await page.keyboard.press('Enter');
  await page.getByText('From channel to …').waitFor();
  await page.locator('[data-wire="routes"]').focus();
  await page.keyboard.press('Enter');
  await page.getByText('channel drives routes.').waitFor();
  expect(await textOf(page, 'tickets')).toContain(without.replace(']', ', routes]'));
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});

test('Laid out by hand: tiles and tabs are moved in the text, and its comments stay', async () => {
  const { page } = await demo.as('developer', '/d/bridge/design');
  await settled(page);
  const before = await textOf(page, 'bridge');
  await page.getByRole('button', { name: 'Lay out' }).click();
  const isles = page.getByRole('group', { name: /arrow keys move/ }).filter({ has: tile(page, 'isles') });
  await isles.focus();
  await page.keyboard.press('ArrowDown');
  await expect.poll(() => textOf(page, 'bridge')).toContain('place: { column: 9, row: 1, width: 3, height: 2 }');
  // What viewers may not move is the designer's to move.
  const briefing = page.getByRole('group', { name: /arrow keys move/ }).filter({ has: tile(page, 'briefing') });
  await briefing.focus();
  await page.keyboard.press('Shift+ArrowLeft');
  await expect.poll(() => textOf(page, 'bridge')).toContain('place: { column: 0, row: 0, width: 8, height: 2 }');
  await page.getByRole('button', { name: 'Change the tab The watch' }).click();
  await page.getByRole('menuitem', { name: 'Rename' }).click();
  await page.getByRole('dialog').getByRole('textbox').fill('On watch');
  await page.keyboard.press('Enter');
  await expect.poll(() => textOf(page, 'bridge')).toContain('title: On watch');
  const after = await textOf(page, 'bridge');
  expect(
    after
      .replace('row: 1, width: 3, height: 2 }', 'row: 0, width: 3, height: 2 }')
      .replace('column: 0, row: 0, width: 8', 'column: 0, row: 0, width: 9')
      .replace('title: On watch', 'title: The watch'),
  ).toBe(before);
  await page.getByRole('button', { name: 'Done', exact: true }).click();
  // Nothing of it is seen by anybody else, nor in one's own page of what is published.
  const { page: other } = await demo.as('director', '/d/bridge');
  await other.getByRole('tab', { name: 'The watch' }).waitFor();
  expect(await figure(other, 'sailings')).toBeGreaterThan(0);
});

test('A dashboard begins as a copy of another; tiles are duplicated, copied as text, pasted and taken out', async () => {
  const { page, context } = await demo.as('developer');
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.getByRole('button', { name: 'New dashboard' }).click();
  await page.getByLabel('Title').fill('Sales again');
  await page.getByRole('combobox', { name: 'It begins with' }).click();
  await page.getByRole('option', { name: 'Ticket sales' }).click();
  await page.getByRole('button', { name: 'Begin the draft' }).click();
  await page.waitForURL('**/d/sales-again/design');
  await settled(page);
  const before = await textOf(page, 'sales-again');
  expect(before).toBe(
    (await textOf(page, 'tickets'))
      .replace('dashboard: tickets', 'dashboard: sales-again')
      .replace('title: Ticket sales', 'title: Sales again'),
  );
  const design = (name: string) =>
    tile(page, name)
      .getByRole('button', { name: /^Design / })
      .click();
  await design('sailed');
  await page.getByRole('button', { name: 'Duplicate it' }).click();
  await expect.poll(() => textOf(page, 'sales-again')).toContain('- tile: sailed-2');
  await page.getByRole('button', { name: 'Copy it as text' }).click();
  await page.getByText('Copied').waitFor();
  await page.getByRole('button', { name: 'New tile' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Or the text of a tile').focus();
  await page.keyboard.press('Control+v');
  await dialog.getByRole('button', { name: 'Paste it' }).click();
  await dialog.waitFor({ state: 'detached' });
  await expect.poll(() => textOf(page, 'sales-again')).toContain('- tile: sailed-3');
  for (const name of ['sailed-2', 'sailed-3']) {
    await design(name);
    await page.getByRole('button', { name: 'Take it out' }).click();
    await expect.poll(() => textOf(page, 'sales-again')).not.toContain(name);
  }
  expect(await textOf(page, 'sales-again')).toBe(before);
});

test('A worked example is begun over other data: what stands for what is chosen, and what does not fit is named', async () => {
  const { page } = await demo.as('developer');
  await page.getByRole('button', { name: 'New dashboard' }).click();
  await page.getByRole('textbox', { name: 'Title' }).fill('Sailed like sold');
  await page.getByRole('combobox', { name: 'It begins with' }).click();
  await page.getByRole('option', { name: 'Ticket sales' }).click();
  await page.getByRole('combobox', { name: 'In place of Ticket sales' }).click();
  await page.getByRole('option', { name: 'Sailings', exact: true }).click();
  const names = page.getByRole('list', { name: 'What stands for Ticket sales' });
  await expect.poll(() => names.getByRole('combobox', { name: 'Route' }).inputValue()).toBe('Route');
  await page.getByText(/tiles do not fit, and are left out/).waitFor();
  await names.getByRole('combobox', { name: 'Takings (measure)', exact: true }).click();
  await page.getByRole('option', { name: 'Income', exact: true }).click();
  // Whether words hold of other data nobody can tell but who reads them: they are named.
  await page.getByText('takings-by-year: is called Takings by month, a line for each year').waitFor();
  expect(await page.getByText(/^sailed: /).count()).toBe(0);
  await names.getByRole('combobox', { name: 'Terminal' }).click();
  await page.getByRole('option', { name: 'Home port', exact: true }).click();
  await names.getByRole('combobox', { name: 'Kind' }).click();
  await page.getByRole('option', { name: 'Class', exact: true }).click();
  await page.getByText(/^channel: /).waitFor();
  await names.getByRole('combobox', { name: 'Tickets sold (measure)' }).click();
  await page.getByRole('option', { name: 'Passengers carried', exact: true }).click();
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await page.getByRole('button', { name: 'Begin the draft' }).click();
  await page.waitForURL('**/d/sailed-like-sold/design');
  await settled(page);
  await expect.poll(() => tile(page, 'takings').innerText()).toContain('Income');
  await tile(page, 'sold-by-terminal').waitFor();
  const text = await textOf(page, 'sailed-like-sold');
  expect(text).toContain('by: home_port');
  expect(text).not.toContain('tile: channel');
});

test('A field is dropped on a place of the sentence; a section is made, and a tile stands in it', async () => {
  const { page } = await demo.as('developer', '/d/tickets/design');
  await settled(page);
  await tile(page, 'sold-by-week')
    .getByRole('button', { name: /^Design / })
    .click();
  await carry(page, 'channel');
  // The places of the sentence come within reach, with what would become of each.
  const places = page.getByRole('list', { name: 'Places of sold-by-week' });
  await places.getByText('By Channel in place of Sold by week').waitFor();
  await dropOn(page, places.getByText('Split by Channel'));
  await expect.poll(() => textOf(page, 'tickets')).toContain('        by: sold.week\n        split: channel\n');
  await page.getByRole('button', { name: /^Done with/ }).click();
  await page.getByRole('button', { name: 'New section' }).click();
  await expect.poll(() => textOf(page, 'tickets')).toContain('section: section');
  await page.getByLabel('Title of the section section').fill('Week by week');
  await page.getByLabel('Title of the section section').press('Enter');
  await expect.poll(() => textOf(page, 'tickets')).toContain('title: Week by week');
  await tile(page, 'sold-by-week')
    .getByRole('button', { name: /^Design / })
    .click();
  await page.getByRole('combobox', { name: 'stands in the section' }).click();
  await page.getByRole('option', { name: 'Week by week' }).click();
  await expect.poll(() => page.locator('[data-section="section"] [data-tile="sold-by-week"]').count()).toBe(1);
  await settled(page);
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  // Held against the data before it is published.
  await page.getByRole('button', { name: 'Publish …' }).click();
  await page.getByText(/^Held against the data, no fault was found/).waitFor();
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});
