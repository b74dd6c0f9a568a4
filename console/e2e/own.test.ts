import { afterAll, beforeAll, expect, test } from 'vitest';
import { Demo, figure, seriousFaults, settled, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

const theirs = "r.home_port IN ('SKE', 'ULL', 'QUI')";

test('A viewer makes a tile of their own on a tab, and shares a dashboard of their own for others to read', async () => {
  const { page } = await demo.as('north-ports', '/d/bridge');
  await settled(page);
  await page.getByRole('button', { name: 'Arrange' }).click();
  await page.getByRole('button', { name: 'Make a tile' }).click();
  const making = page.getByRole('dialog', { name: 'A tile of your own on The watch' });
  await making.locator('[data-field="sailings"]').click();
  await making.locator('[data-field="vessel_class"]').click();
  await making.getByRole('button', { name: 'Take this bar' }).waitFor();
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await making.getByRole('button', { name: 'Take this bar' }).click();
  await making.waitFor({ state: 'detached' });
  const made = tile(page, 'own-sailings-bar-1');
  await made.waitFor();
  await page.getByRole('button', { name: 'Done' }).click();
  await settled(page);
  const first = made.getByRole('option').first();
  const biggest = await demo.sql(
    `SELECT v.class, count(*)::INTEGER FROM sailing s JOIN route r ON r.id = s.route_id JOIN vessel v ON v.id = s.vessel_id
     WHERE ${theirs} GROUP BY 1 ORDER BY 2 DESC LIMIT 1`,
  );
  await expect.poll(() => first.textContent()).toContain(Number(biggest[0]?.[1]).toLocaleString('en-US'));
  // It is there on another visit, and may be drawn otherwise like any other.
  await page.reload();
  await settled(page);
  await made.waitFor();

  await page.goto(demo.url);
  await page.getByRole('button', { name: 'New dashboard' }).click();
  await page.getByRole('textbox', { name: 'Title' }).fill('For the director');
  await page.getByRole('combobox', { name: 'Over the dataset' }).click();
  await page.getByRole('option', { name: 'Sailings' }).click();
  await page.getByRole('button', { name: 'Make it' }).click();
  await page.waitForURL('**/d/own-for-the-director/design');
  await settled(page);
  await page.getByRole('button', { name: 'Share …' }).click();
  await page.getByText('Only you.').waitFor();
  await page.getByRole('combobox', { name: 'Share it with' }).click();
  await page.getByRole('option', { name: 'Director', exact: true }).last().click();
  await page.getByRole('button', { name: 'Share', exact: true }).click();
  await page.getByRole('button', { name: /^Withdraw from/ }).waitFor();
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  const { page: director } = await demo.as('director');
  await director.getByRole('list', { name: 'Shared with you' }).getByText('For the director').click();
  await settled(director);
  await expect.poll(() => figure(director, 'sailings')).toBe(await demo.sailings('true'));
  expect(await director.getByRole('link', { name: 'Design' }).count()).toBe(0);
  expect(await director.getByRole('button', { name: 'Lay out' }).count()).toBe(0);
  await tile(director, 'table')
    .getByRole('row', { name: /^North Reach/ })
    .click();
  await expect.poll(() => figure(director, 'sailings')).toBe(await demo.sailings("r.sea_area = 'North Reach'"));
  // A page that is open follows what is changed, with what is picked on it.
  const owner = await demo.client('north-ports');
  const steps = [{ do: 'set', at: ['title'], value: 'For the director and nobody else' }];
  expect((await owner('/api/drafts/dashboards/own-for-the-director/steps', { steps })).status).toBe(200);
  await director.getByRole('heading', { name: 'For the director and nobody else' }).waitFor();
  await settled(director);
  expect(await figure(director, 'sailings')).toBe(await demo.sailings("r.sea_area = 'North Reach'"));
  await page.getByRole('button', { name: /^Withdraw from/ }).click();
  await page.getByText('Only you.').waitFor();
  // Whoever has it open sees it no more, without asking for anything.
  await director.getByText('There is no dashboard').waitFor();
  expect(await director.locator('[data-tile]').count()).toBe(0);
});

test('A viewer makes a dashboard of their own over their rows, hands it over, and who publishes takes it on for others', async () => {
  const { page } = await demo.as('north-ports');
  await page.getByRole('button', { name: 'New dashboard' }).click();
  await page.getByRole('textbox', { name: 'Title' }).fill('Our ports');
  await page.getByRole('combobox', { name: 'Over the dataset' }).click();
  await page.getByRole('option', { name: 'Sailings' }).click();
  await page.getByRole('button', { name: 'Make it' }).click();
  await page.waitForURL('**/d/own-our-ports/design');
  await settled(page);
  await expect.poll(() => figure(page, 'sailings')).toBe(await demo.sailings(theirs));
  // A tile more, by hand; nothing here publishes.
  await page.getByRole('button', { name: 'New tile' }).click();
  const adding = page.getByRole('dialog', { name: 'New tile' });
  await adding.getByRole('button', { name: /^Passengers carried/ }).click();
  await adding
    .getByRole('button', { name: /^Vessel/ })
    .first()
    .click();
  await adding.getByRole('button', { name: 'Take this bar' }).click();
  await expect.poll(() => page.locator('[data-tile]').count()).toBe(7);
  await settled(page);
  expect(await page.getByRole('button', { name: 'Publish …' }).count()).toBe(0);
  expect(await page.getByRole('button', { name: 'History' }).count()).toBe(0);
  await page.getByRole('button', { name: 'Hand over …' }).click();
  await page.getByRole('textbox', { name: 'Why' }).fill('Every port wants it');
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await page.getByRole('button', { name: 'Hand over', exact: true }).click();
  await page.getByRole('dialog').waitFor({ state: 'detached' });
  // As one looks at it: the design is a way, and picks filter.
  await page.getByRole('link', { name: 'Leave' }).click();
  await page.waitForURL('**/own/own-our-ports');
  await settled(page);
  expect(await page.getByRole('button', { name: 'Lay out' }).count()).toBe(0);
  await tile(page, 'table')
    .getByRole('row', { name: /^North Reach/ })
    .click();
  await expect
    .poll(() => figure(page, 'sailings'))
    .toBe(await demo.sailings(`${theirs} AND r.sea_area = 'North Reach'`));
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await page.getByRole('link', { name: 'All dashboards' }).click();
  const own = page.getByRole('list', { name: 'Your own dashboards' });
  await own.getByText('Our ports').waitFor();
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  // What is published is as it was in this window, too.
  await page.getByRole('link', { name: /Ticket sales/ }).click();
  await settled(page);

  const { page: developer } = await demo.as('developer');
  await developer.getByRole('list', { name: 'Handed over' }).getByText('Every port wants it').waitFor();
  await expect.poll(() => seriousFaults(developer)).toEqual([]);
  await developer.getByRole('button', { name: 'Take Our ports on' }).click();
  await developer.waitForURL('**/d/our-ports/design');
  await settled(developer);
  await expect.poll(() => figure(developer, 'sailings')).toBe(await demo.sailings('true'));
  await developer.getByRole('button', { name: 'Publish …' }).click();
  await developer.getByLabel('Why').fill('North ports want it');
  await developer.getByRole('button', { name: 'Publish', exact: true }).click();
  await developer.waitForURL('**/d/our-ports');
  const { page: director } = await demo.as('director', '/d/our-ports');
  await settled(director);
  expect(await figure(director, 'sailings')).toBe(await demo.sailings('true'));
  // Their own one is theirs still, and goes when they throw it away.
  await page.goto(`${demo.url}/own/own-our-ports`);
  await settled(page);
  await page.getByRole('link', { name: 'Design' }).click();
  await page.getByRole('button', { name: 'Hand over …' }).click();
  await page.getByRole('button', { name: 'Throw it away' }).click();
  await page.getByRole('button', { name: 'Throw the whole dashboard away' }).click();
  await page.getByText('no dashboard own-our-ports').waitFor();
});

test('Access is changed as a text with its words at hand, and published for the next request', async () => {
  const { page } = await demo.as('developer', '/data');
  await page.getByRole('link', { name: 'Change access.yaml' }).click();
  const text = page.getByRole('textbox', { name: 'Text of access' });
  await text.waitFor();
  // The desk may do no more than read and arrange; another act is offered by its first letter.
  await page.getByText('dashboards: { all: [see, arrange] }').waitFor();
  await text.getByText('dashboards: { all: [see, arrange] }').click();
  await page.keyboard.press('End');
  await page.keyboard.insertText('\n    may: [');
  await page.keyboard.type('ow');
  const offer = page.getByRole('option', { name: 'own' });
  await offer.waitFor();
  await offer.click();
  await page.keyboard.insertText(', nothing]');
  const found = page.getByRole('status', { name: 'What the check found' });
  await found.getByText(/nothing/).waitFor();
  for (let i = 0; i < ', nothing]'.length; i++) await page.keyboard.press('Backspace');
  await page.keyboard.insertText(']');
  await found.getByText('No fault.').waitFor();
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await page.getByRole('button', { name: 'Publish …' }).click();
  await page.getByLabel('Why').fill('Desks make their own');
  await page.getByRole('button', { name: 'Publish', exact: true }).click();
  await page.waitForURL('**/data');
  const { page: desk } = await demo.as('skerrin-desk');
  await desk.getByRole('button', { name: 'New dashboard' }).waitFor();
});

test('What a draft changes is seen in pictures, as it is published and as it would be', async () => {
  const Authorization = await demo.authorization('developer');
  const at = (tile: string, ...keys: string[]) => ['tabs', 'overview', 'tiles', tile, ...keys];
  const answer = await fetch(`${demo.url}/api/drafts/dashboards/network/steps`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Authorization },
    body: JSON.stringify({
      steps: [
        { do: 'set', at: at('sailings-by-class', 'picture'), value: 'bar' },
        { do: 'set', at: at('income', 'place', 'width'), value: 2 },
        { do: 'remove', at: ['tabs', 'weather-and-fuel', 'tiles', 'margin'] },
        { do: 'set', at: ['title'], value: 'The network now' },
      ],
    }),
  });
  expect(answer.ok).toBe(true);
  const { page } = await demo.as('developer');
  await page.goto(`${demo.url}/d/network/design`);
  await settled(page);
  await page.getByRole('button', { name: 'Publish …' }).click();
  await page.getByText('In pictures').click();
  const changes = page.getByRole('region', { name: 'What changes in pictures' });
  await changes.getByText('Of the page: title.').waitFor();
  await changes.getByText('Income: moved').waitFor();
  const changed = changes.getByRole('article', { name: 'sailings-by-class' });
  await changed.getByText('Changed: picture').waitFor();
  const [before, now] = [changed.getByRole('figure').first(), changed.getByRole('figure').last()];
  await before.locator('[data-tile="sailings-by-class"][data-state=ready]').waitFor();
  await now.locator('[data-tile="sailings-by-class"][data-state=ready]').waitFor();
  expect(await changes.getByRole('article', { name: 'margin' }).getByRole('figure').count()).toBe(1);
  expect(await changes.getByRole('article').count()).toBe(2);
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
});

test('A tile that takes long is asked for when it is wanted, and waits again when what filters it has changed', async () => {
  const Authorization = await demo.authorization('developer');
  const answer = await fetch(`${demo.url}/api/drafts/dashboards/network/steps`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Authorization },
    body: JSON.stringify({
      steps: [{ do: 'set', at: ['tabs', 'overview', 'tiles', 'passengers', 'waits'], value: true }],
    }),
  });
  expect(answer.ok).toBe(true);
  const { page } = await demo.as('developer');
  await page.goto(`${demo.url}/d/network/design`);
  await settled(page);
  const slow = tile(page, 'passengers');
  expect(await slow.getAttribute('data-state')).toBe('on request');
  await page.mouse.move(5, 5);
  await expect.poll(() => seriousFaults(page)).toEqual([]);
  await slow.getByRole('button', { name: 'Show it' }).click();
  await expect.poll(() => slow.getAttribute('data-state')).toBe('ready');
  const all = await figure(page, 'passengers');
  await page.getByRole('combobox', { name: 'Sea area' }).click();
  await page.getByRole('option', { name: /^South Deep/ }).click();
  await slow.getByRole('button', { name: 'Show it anew' }).click();
  await slow.getByRole('button', { name: /^Filtered by 1: Sea area: South Deep/ }).waitFor();
  expect(await figure(page, 'passengers')).toBeLessThan(all);
  // On a wall nobody presses anything.
  await page.goto(`${demo.url}/d/network/seen?wall=1`);
  await page.locator('[data-tile="passengers"][data-state=ready]').waitFor();
});
