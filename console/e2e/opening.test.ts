import type { Page, Request } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asked, barOf, Demo, figure, picked, pickOf, seriousFaults, settled, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
  // Two dashboards of the test's own: one that waits for a button, one with a control of very many members.
  const developer = await demo.client('developer');
  const { files } = (await (await developer('/api/definitions')).json()) as { files: Record<string, string> };
  files['dashboards/waiting.yaml'] = `dashboard: waiting
apply: on_button
tabs:
  - tab: one
    tiles:
      - { tile: classes, picture: bar, dataset: sailings, show: sailings, by: vessel_class, place: { column: 0, row: 0, width: 6, height: 4 } }
      - { tile: areas, picture: list, dataset: sailings, by: sea_area, place: panel }
      - { tile: counted, picture: number, dataset: sailings, show: sailings, place: { column: 6, row: 0, width: 3, height: 4 } }
`;
  files['datasets/codes.yaml'] = `dataset: codes
source: ferries
query: SELECT 'no ' || CAST(id AS VARCHAR) AS code, delay_min FROM sailing
fields:
  code: { column: code }
  delay: { column: delay_min, type: integer }
measures:
  codes: { formula: "count(*)" }
`;
  files['dashboards/codes.yaml'] = `dashboard: codes
tabs:
  - tab: one
    tiles:
      - { tile: code, picture: dropdown, dataset: codes, by: code, title: Code, place: { column: 0, row: 0, width: 6, height: 2 } }
      - { tile: counted, picture: number, dataset: codes, show: codes, place: { column: 6, row: 0, width: 3, height: 4 } }
`;
  files['access.yaml'] = (files['access.yaml'] ?? '').replaceAll(
    'reads: { sailings: { detail: true }',
    'reads: { codes: all, sailings: { detail: true }',
  );
  const published = await fetch(`${demo.url}/api/definitions`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json', Authorization: await demo.authorization('developer') },
    body: JSON.stringify({ files }),
  });
  expect(await published.json()).toMatchObject({ accepted: true });
});
afterAll(() => demo?.stop());

const sailings = (where: string) => demo.sailings(where);
const byChoice = '/d/punctuality?tab=by-choice';
const choose = async (page: Page, parameter: string, choice: string) => {
  await page.getByRole('combobox', { name: parameter }).click();
  await page.getByRole('option', { name: choice, exact: true }).click();
};
const title = (page: Page, name: string) => tile(page, name).locator('h2').innerText();

/** The tiles that the page asks for while something is done. */
async function tilesAsked(page: Page, act: () => Promise<unknown>): Promise<string[]> {
  const names: string[] = [];
  const note = (r: Request) => {
    if (r.url().endsWith('/results')) names.push(...(r.postDataJSON() as { tiles: string[] }).tiles);
  };
  page.on('request', note);
  await asked(page, act);
  page.off('request', note);
  return names.sort();
}

describe('A dashboard', () => {
  test('opens with its opening values, to which clear all and Back lead; what is required can not be emptied', async () => {
    const { page } = await demo.as('director', byChoice);
    await settled(page);
    await choose(page, 'Figure', 'Sailings');
    await expect.poll(() => figure(page, 'chosen')).toBe(await sailings('year(departed_at) = 2025'));
    expect(new URL(page.url()).searchParams.get('pick')).toBeNull();
    expect(await picked(page)).toContain('Year: 2025');
    expect(await page.getByRole('button', { name: /^Clear Year/ }).count()).toBe(0);
    expect(await tile(page, 'year').getByLabel('All').count()).toBe(0);
    await asked(page, () => tile(page, 'year').getByLabel('2023').click());
    expect(await figure(page, 'chosen')).toBe(await sailings('year(departed_at) = 2023'));
    await page.goBack();
    await expect.poll(() => figure(page, 'chosen')).toBe(await sailings('year(departed_at) = 2025'));
    await page.goForward();
    await expect.poll(() => figure(page, 'chosen')).toBe(await sailings('year(departed_at) = 2023'));
    await page.getByRole('button', { name: 'Clear all' }).click();
    await expect.poll(() => picked(page)).toContain('Year: 2025');
    expect(page.url()).not.toContain('pick=');
    expect(await title(page, 'chosen')).toBe('Mean delay');
  });

  test('is drawn by the choices of its viewer: grain, field, measure and kind of picture; only what changes is asked for', async () => {
    const { page } = await demo.as('director', byChoice);
    await settled(page);
    expect(await tilesAsked(page, () => choose(page, 'Along', 'Quarters'))).toEqual(['course']);
    expect(await title(page, 'course')).toBe('Mean delay by quarter, split by class');
    // What is picked on a tile goes with the field that it was picked on; other picks stay.
    await tile(page, 'parts').getByRole('listbox').focus();
    await page.keyboard.press('End');
    await page.keyboard.press('Space');
    await expect.poll(() => pickOf(page).parts?.members).toEqual([['Swift']]);
    await tile(page, 'chosen')
      .getByRole('button', { name: /^Filtered by 2/ })
      .waitFor();
    await tile(page, 'pairs')
      .getByRole('button', { name: /^Filtered by 2/ })
      .waitFor();
    await settled(page);
    expect(await tilesAsked(page, () => choose(page, 'Broken down by', 'Sea area'))).toEqual(
      expect.arrayContaining(['course', 'pairs', 'parts']),
    );
    expect(pickOf(page).parts).toBeUndefined();
    expect(await picked(page)).toContain('Year: 2025');
    await choose(page, 'Figure', 'Late');
    await expect.poll(() => title(page, 'course')).toBe('Late by quarter, split by sea area');
    await settled(page);
    await choose(page, 'Drawn as', 'Bars');
    await expect.poll(() => tile(page, 'course').getAttribute('data-picture')).toBe('bar');
    await settled(page);
    expect(await tile(page, 'course').getByRole('option').count()).toBe(4);
    await page.goBack();
    await expect.poll(() => tile(page, 'course').getAttribute('data-picture')).toBe('line');
    await page.goForward();

    // The same link under other rights: choices that stand for what may not be seen are not there.
    const { page: other } = await demo.as('auditor', page.url().slice(demo.url.length));
    await settled(other);
    expect(await title(other, 'course')).toBe('Late by quarter, split by sea area');
    await other.getByRole('combobox', { name: 'Figure' }).click();
    expect(await other.getByRole('listbox', { name: 'Figure' }).getByRole('option').allInnerTexts()).toEqual([
      'Mean delay',
      'Late',
      'Sailings',
    ]);
    const hidden = `${byChoice}&set=${encodeURIComponent('{"figure":["income"],"grain":["week"]}')}`;
    await other.goto(demo.url + hidden);
    await settled(other);
    expect(await title(other, 'course')).toBe('Mean delay by week, split by class');
  });

  test('folds its controls away and keeps what they say', async () => {
    const { page } = await demo.as('director', byChoice);
    await settled(page);
    await asked(page, () => tile(page, 'year').getByLabel('2024').click());
    await page.getByRole('button', { name: 'Fold the controls away' }).click();
    expect(await tile(page, 'year').count()).toBe(0);
    await page.getByText('Controls, 1 set').waitFor();
    expect(await picked(page)).toContain('Year: 2024');
    await expect.poll(() => seriousFaults(page)).toEqual([]);
    await page.reload();
    await settled(page);
    await page.getByRole('button', { name: 'Unfold the controls' }).click();
    expect(await tile(page, 'year').getByLabel('2024').isChecked()).toBe(true);
    await expect.poll(() => seriousFaults(page)).toEqual([]);
  });

  test('opens again for its viewer with what they keep, in another browser too, until they forget it', async () => {
    const { page } = await demo.as('north-ports', byChoice);
    await settled(page);
    await choose(page, 'Figure', 'Sailings');
    await choose(page, 'Broken down by', 'Home port');
    await tile(page, 'year').getByLabel('2024').click();
    const count = await sailings("year(departed_at) = 2024 AND r.home_port IN ('SKE', 'ULL', 'QUI')");
    await expect.poll(() => figure(page, 'chosen')).toBe(count);
    await page.getByRole('button', { name: 'Keep for next time' }).click();
    await page.getByText('Kept in your view.').waitFor();

    const { page: again } = await demo.as('north-ports', byChoice);
    await settled(again);
    await expect.poll(() => figure(again, 'chosen')).toBe(count);
    expect(await title(again, 'parts')).toBe('Sailings by home port');
    expect(again.url()).not.toMatch(/pick=|set=/);
    await tile(again, 'year').getByLabel('2025').click();
    await expect.poll(() => figure(again, 'chosen')).not.toBe(count);
    await choose(again, 'Figure', 'Mean delay');
    await expect.poll(() => title(again, 'parts')).toBe('Mean delay by home port');
    await again.getByRole('button', { name: 'Clear all' }).click();
    await expect.poll(() => title(again, 'parts')).toBe('Sailings by home port');
    await expect.poll(() => figure(again, 'chosen')).toBe(count);
    expect(await seriousFaults(again)).toEqual([]);
    await again.getByRole('button', { name: 'Forget' }).click();
    await expect.poll(() => picked(again)).toContain('Year: 2025');
    await expect.poll(() => title(again, 'parts')).toBe('Mean delay by class');
  });

  test('can wait for a button: picks are collected, applied at once, or discarded', async () => {
    const { page } = await demo.as('director', '/d/waiting');
    await settled(page);
    const all = await figure(page, 'counted');
    const sent: string[] = [];
    page.on('request', (r) => r.method() === 'POST' && sent.push(r.url()));
    await tile(page, 'areas').getByLabel('South Deep').click();
    const bar = await barOf(page, 'classes', 'Swift');
    await page.mouse.click(bar.x, bar.y);
    await expect.poll(() => picked(page)).toContain('South Deep');
    expect(await picked(page)).toContain('What you picked filters nothing until you apply it.');
    expect(await figure(page, 'counted')).toBe(all);
    expect(sent).toEqual([]);
    await expect.poll(() => seriousFaults(page)).toEqual([]);
    await asked(page, () => page.getByRole('button', { name: 'Apply' }).click());
    expect(await figure(page, 'counted')).toBe(await sailings("r.sea_area = 'South Deep' AND v.class = 'Swift'"));
    await tile(page, 'areas').getByLabel('North Reach').click();
    await page.getByRole('button', { name: 'Discard' }).click();
    expect(await picked(page)).not.toContain('North Reach');
    await page.goBack();
    await expect.poll(() => figure(page, 'counted')).toBe(all);
  });
});

describe('A control', () => {
  test('of very many members finds those that contain what is typed', async () => {
    const { page } = await demo.as('director', '/d/codes');
    await settled(page);
    const input = tile(page, 'code').getByRole('combobox', { name: 'Code' });
    const [[many]] = (await demo.sql('SELECT count(*)::INTEGER FROM sailing')) as [[number]];
    expect(await input.getAttribute('placeholder')).toBe(`All of ${many.toLocaleString('en-US')}`);
    await input.fill('no 24381');
    await page.getByRole('option', { name: 'no 243817' }).click();
    await expect.poll(() => figure(page, 'counted')).toBe(1);
    await input.fill('no 2438');
    await page.getByRole('option', { name: 'no 243810' }).click();
    await expect.poll(() => figure(page, 'counted')).toBe(2);
    await input.fill('no such code');
    await page.getByText('No such member').waitFor();
    await expect.poll(() => seriousFaults(page)).toEqual([]);
  });
});

describe('What is picked', () => {
  test('and has no rows any more under other filters stays, marked', async () => {
    const state = encodeURIComponent(JSON.stringify({ vessels: { members: [[7]] } }));
    const { page } = await demo.as('director', `/d/punctuality?pick=${state}`);
    await settled(page);
    await page.getByRole('tab', { name: 'Watch' }).click();
    const [[early]] = (await demo.sql(
      "SELECT strftime(min(departed_at), '%Y-%m-%d') FROM sailing s JOIN vessel v ON v.id = s.vessel_id WHERE v.name = 'Grey Pilgrim'",
    )) as [[string]];
    expect(early < '2023-01-08').toBe(true);
    await tile(page, 'span').getByLabel('To').fill(early.replace(/..$/, '01'));
    await tile(page, 'span').getByLabel('From').fill('2000-01-01');
    await tile(page, 'span').getByLabel('To').fill('2000-12-31');
    await expect.poll(() => picked(page)).toContain('Grey Pilgrim (no rows now)');
    await page.getByRole('button', { name: /^Clear Week/ }).click();
    await expect.poll(() => picked(page)).not.toContain('no rows now');
  });

  test('in a link, and is not the viewer’s to see, is left out and told without the value', async () => {
    const state = {
      ports: { members: [['SKE'], ['FEN']] },
      areas: { members: [], path: ['South Deep'] },
    };
    const pinned = encodeURIComponent('{"ports":{"members":[["FEN"],["SKE"]]}}');
    const link = `${byChoice}&pick=${encodeURIComponent(JSON.stringify(state))}&a=${pinned}`;
    const { page } = await demo.as('skerrin-desk', link);
    await settled(page);
    await expect.poll(() => page.url()).not.toContain('FEN');
    const bar = await picked(page);
    expect(bar).toContain('Home port: SKE from Home port');
    expect(bar).toContain('A value picked on Home port was left out: not among the rows you may see.');
    expect(bar).toContain('A value picked on Late by sea area was left out');
    expect(await page.locator('body').innerText()).not.toContain('FEN');
    expect(await page.locator('body').innerText()).not.toContain('South Deep');
    await page.getByRole('button', { name: 'Go on with B' }).click();
    await choose(page, 'Figure', 'Sailings');
    await expect
      .poll(() => figure(page, 'chosen'))
      .toBe(await sailings("r.home_port = 'SKE' AND year(departed_at) = 2025"));
    // Only what was pinned is not theirs: what is picked stays as it was written.
    const fine = '{"ports":{"members":[["SKE"]]},"year":{"members":[["2024-01-01"]]}}';
    await page.goto(`${demo.url}${byChoice}&pick=${encodeURIComponent(fine)}&a=${pinned}`);
    await settled(page);
    await expect.poll(() => page.url()).not.toContain('FEN');
    expect(new URL(page.url()).searchParams.get('pick')).toBe(fine);
    expect(await picked(page)).toContain('left out');
  });
});

test('The tab by choice has no serious fault of accessibility', async () => {
  const { page } = await demo.as('director', byChoice);
  await settled(page);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});
