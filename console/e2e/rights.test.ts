import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asked, Demo, figure, seriousFaults, settled, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

const pick = encodeURIComponent(JSON.stringify({ 'sailings-by-class': { members: [['Islander']] } }));

describe('What a viewer may do with a dashboard', () => {
  test('who publishes or looks as others sees who has it, and what gives it to them', async () => {
    const { page } = await demo.as('director', '/d/network');
    await settled(page);
    await page.getByRole('button', { name: 'Who may see this' }).click();
    const panel = page.getByRole('dialog', { name: 'Who may see this' });
    const row = (name: string) => panel.getByRole('row').filter({ hasText: name }).first();
    await row('Skerrin desk').waitFor();
    const desk = await row('Skerrin desk').innerText();
    expect(desk).toContain('Desk of one port: home_port in user.ports');
    expect(desk).toContain('Fuel cost');
    expect(desk).toContain('see, arrange (Desk of one port)');
    expect(desk).not.toContain('export');
    await expect.poll(() => seriousFaults(page)).toEqual([]);
  });

  test('one looks as somebody in a frame, for reading only, and one key leads back to where one was', async () => {
    const own = await demo.as('skerrin-desk', '/d/network');
    await settled(own.page);
    const theirs = await figure(own.page, 'all-sailings');
    const address = `/d/network?tab=overview&pick=${pick}`;
    const { page } = await demo.as('director', address);
    await settled(page);
    const before = page.url();
    await page.getByLabel('Signed in as Director').click();
    await page.getByRole('menuitem', { name: 'Look as' }).click();
    await page.getByRole('combobox', { name: 'A role or a person' }).click();
    await page.getByRole('option', { name: 'Desk of one port' }).click();
    await page.getByText('The role alone has no ports').waitFor();
    await page.getByRole('combobox', { name: 'A role or a person' }).click();
    await page.getByRole('option', { name: 'Skerrin desk' }).click();
    await page.getByRole('button', { name: 'Look', exact: true }).click();
    await page.getByText('You look as Skerrin desk').waitFor();
    await settled(page);
    // All rows of theirs, and none of what the director had picked.
    expect(await figure(page, 'all-sailings')).toBe(theirs);
    expect(new URL(page.url()).search).not.toContain('Islander');
    expect(await page.getByRole('button', { name: 'Arrange' }).count()).toBe(0);
    expect(await page.getByRole('button', { name: 'Who may see this' }).count()).toBe(0);
    await expect.poll(() => seriousFaults(page)).toEqual([]);
    // A link to another page stays theirs.
    await page.getByRole('link', { name: 'All dashboards' }).click();
    await page.getByRole('heading', { name: 'Dashboards' }).waitFor();
    await page.getByText('You look as Skerrin desk').waitFor();
    await page.reload();
    await page.getByText('You look as Skerrin desk').waitFor();
    await page.keyboard.press('q');
    await page.getByText('You look as').waitFor({ state: 'detached' });
    await settled(page);
    expect(page.url()).toBe(before);
  });

  test('who may only see it is offered neither a view of their own nor the SQL', async () => {
    const { page } = await demo.as('auditor', '/d/network');
    await settled(page);
    expect(await page.getByRole('button', { name: 'Arrange' }).count()).toBe(0);
    await asked(page, () => page.goto(`${demo.url}/d/network?pick=${pick}`));
    await page.getByRole('button', { name: 'Clear all' }).waitFor();
    expect(await page.getByRole('button', { name: 'Keep for next time' }).count()).toBe(0);
    await tile(page, 'passengers').getByLabel('Menu of Passengers carried').click();
    await page.getByRole('menuitem', { name: 'Where this comes from' }).click();
    await page.getByText('shown to those whose roles may explain').waitFor();
    expect(await page.getByRole('dialog').innerText()).not.toContain('SELECT');
    const manager = await demo.as('north-ports', '/d/network');
    await settled(manager.page);
    await tile(manager.page, 'passengers').getByLabel('Menu of Passengers carried').click();
    await manager.page.getByRole('menuitem', { name: 'Where this comes from' }).click();
    await manager.page.getByText('SELECT').first().waitFor();
  });
});
