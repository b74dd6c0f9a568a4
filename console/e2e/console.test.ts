import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asked, bar, Demo, figure, seriousFaults, settled, takeUp, tile } from './demo';

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start();
});
afterAll(() => demo?.stop());

const allSailings = 'SELECT count(*) FROM sailing';

describe('Parameters', () => {
  test('change the figures at once, stand in the address, and are checked', async () => {
    const { page } = await demo.as('director', '/d/network?tab=punctuality');
    await settled(page);
    const share = async (minutes: number) => {
      const [[late]] = (await demo.sql(
        `SELECT round(100.0 * count(*) FILTER (WHERE delay_min > ${minutes}) / count(delay_min), 1)::VARCHAR FROM sailing`,
      )) as [[string]];
      return late;
    };
    const total = () => tile(page, 'vessels').locator('tfoot').innerText();
    expect(await total()).toContain(await share(10));
    await page.getByLabel('Late after').fill('99');
    await page.getByText('At most 60.').waitFor();
    await page.getByLabel('Late after').fill('20');
    await page.getByLabel('Late after').press('Enter');
    await page.waitForURL(/set=/);
    await settled(page);
    const twenty = await share(20);
    await expect.poll(total).toContain(twenty);
    await page.reload();
    await settled(page);
    expect(await total()).toContain(twenty);
    await page.getByRole('button', { name: 'Clear all' }).click();
    const ten = await share(10);
    await expect.poll(total).toContain(ten);
  });
});

describe('Data', () => {
  test('from nothing to a dataset: source, table, look-ups, rows, text, saved', async () => {
    const { page } = await demo.as('developer', '/data');
    await page.getByRole('link', { name: 'New dataset' }).click();
    await page.getByPlaceholder('Choose a source').click();
    await page.getByRole('option', { name: 'Ferry records' }).click();
    await page.getByPlaceholder('Choose a table').click();
    await page.getByRole('option', { name: /^sailing/ }).click();
    await page.getByLabel(/^route/).check();
    const counts = page.locator('[data-counts]');
    const [[all]] = (await demo.sql('SELECT count(*)::VARCHAR FROM sailing')) as [[string]];
    await expect.poll(() => counts.innerText()).toContain(`${Number(all).toLocaleString('en-US')} rows, 18 columns`);
    // Filtering and sorting leave the definition alone.
    const definition = page.locator('[data-definition]');
    const before = await definition.innerText();
    await page.locator('[data-column=cancel_reason]').hover();
    await page.getByRole('button', { name: 'Column Cancel reason' }).click();
    await page.getByLabel('Text in Cancel reason').fill('crew');
    await page.keyboard.press('Escape');
    const [[crew]] = (await demo.sql("SELECT count(*)::VARCHAR FROM sailing WHERE cancel_reason = 'crew'")) as [
      [string],
    ];
    await expect.poll(() => counts.innerText()).toContain(`${Number(crew).toLocaleString('en-US')} of`);
    expect(await definition.innerText()).toBe(before);
    await page.getByLabel('Name', { exact: true }).fill('crewless');
    await expect.poll(() => seriousFaults(page)).toEqual([]);
    await page.getByRole('button', { name: 'Save the dataset' }).click();
    await page.getByText('datasets/crewless.yaml is published.').waitFor();
    await page.getByRole('combobox', { name: 'Who may read it' }).waitFor();
  });

  test('a query is written, its columns are read, and a fault in it is told', async () => {
    const { page } = await demo.as('developer', '/data/new');
    await page.getByPlaceholder('Choose a source').click();
    await page.getByRole('option', { name: 'Ferry records' }).click();
    await page.getByText('Write SQL').click();
    const editor = page.getByRole('textbox', { name: 'SQL' });
    await editor.click();
    // The table is named then, so its columns are offered.
    const columns = page.waitForResponse((r) => r.url().includes('/tables/route') && r.status() === 200);
    await page.keyboard.insertText('SELECT nme FROM route');
    await columns;
    await page.keyboard.insertText(' WHERE mil');
    const offered = page.locator('.cm-tooltip-autocomplete').getByText('miles');
    await expect
      .poll(async () => {
        await page.keyboard.press('Control+Space');
        return offered.count();
      })
      .toBe(1);
    await page.keyboard.press('Escape');
    await page.keyboard.press('Control+a');
    await page.keyboard.insertText('SELECT nme FROM route');
    await page.getByRole('button', { name: 'Read its columns' }).click();
    await page.getByText(/nme/).last().waitFor();
    await page.getByRole('alert').first().waitFor();
    // By focus: what is offered for the text before may lie over the middle of the editor.
    await editor.focus();
    await page.keyboard.press('Control+a');
    await page.keyboard.insertText('SELECT name, miles FROM route WHERE miles > 20');
    await page.getByRole('button', { name: 'Read its columns' }).click();
    const [[far]] = (await demo.sql('SELECT count(*)::VARCHAR FROM route WHERE miles > 20')) as [[string]];
    await expect.poll(() => page.locator('[data-counts]').innerText()).toContain(`${far} rows, 2 columns`);
    await page.getByRole('button', { name: 'Check the values' }).click();
    await page.getByText('Every row has every value').waitFor();
  });

  test('who may not define sees the meaning of fields only', async () => {
    const { page } = await demo.as('skerrin-desk', '/data');
    await page.getByText('Sailings', { exact: true }).first().click();
    await page.getByText('metres a second').waitFor();
    expect(await page.getByRole('link', { name: 'New dataset' }).count()).toBe(0);
    expect(await page.getByText('Fuel cost').count()).toBe(0);
    await expect.poll(() => seriousFaults(page)).toEqual([]);
  });
});

describe('Signing in', () => {
  test('two accounts see different figures, each equal to a direct query', async () => {
    const director = await demo.as('director', '/d/network');
    await settled(director.page);
    const ports = await demo.as('north-ports', '/d/network');
    await settled(ports.page);
    const [[all]] = (await demo.sql(allSailings)) as [[string]];
    const [[some]] = (await demo.sql(
      `${allSailings} s JOIN route r ON r.id = s.route_id WHERE r.home_port IN ('SKE', 'ULL', 'QUI')`,
    )) as [[string]];
    expect(await figure(director.page, 'all-sailings')).toBe(Number(all));
    expect(await figure(ports.page, 'all-sailings')).toBe(Number(some));
    expect(await tile(ports.page, 'all-sailings').innerText()).toContain('Of the rows you may see.');
  });

  test('with a wrong password is refused with a reason and nothing is lost', async () => {
    const page = await (await demo.context()).newPage();
    await page.goto(`${demo.url}/d/tickets`);
    await page.locator('input[name=name]').fill('director');
    await page.locator('input[name=password]').fill('wrong');
    await page.getByRole('button', { name: 'Sign in' }).click();
    await page.getByText('The name or the password is wrong.').waitFor();
    await page.locator('input[name=password]').fill('director-lantern');
    await page.getByRole('button', { name: 'Sign in' }).click();
    await page.getByRole('heading', { name: 'Ticket sales' }).waitFor();
  });

  test('what is not granted is not shown, and the page says how much is missing', async () => {
    const { page } = await demo.as('auditor', '/d/network');
    await settled(page);
    expect(await tile(page, 'income').count()).toBe(0);
    expect(await page.locator('main').innerText()).toMatch(/\d+ tiles of this dashboard are not shown/);
  });
});

describe('Picking', () => {
  test('a click on a bar changes the followers to figures that equal a direct query', async () => {
    const { page } = await demo.as('director', '/d/network');
    await settled(page);
    const before = await figure(page, 'passengers');
    const at = await bar(page, 'income-by-route', 0);
    await asked(page, () => page.mouse.click(at.x, at.y));
    const chip = await page.getByLabel('What is picked').innerText();
    expect(chip).toContain('Lanternhead–Tolmarra');
    const [[carried]] = (await demo.sql(
      "SELECT sum(passengers) FROM sailing s JOIN route r ON r.id = s.route_id WHERE r.name = 'Lanternhead–Tolmarra' AND departed_at >= '2025-12-01'",
    )) as [[string]];
    expect(await figure(page, 'passengers')).toBe(Number(carried));
    expect(await figure(page, 'passengers')).not.toBe(before);
    // Its own chart keeps all members, and the tile that follows none keeps its figure.
    expect(await tile(page, 'income-by-route').getByRole('option').count()).toBe(11);
    const [[all]] = (await demo.sql(allSailings)) as [[string]];
    expect(await figure(page, 'all-sailings')).toBe(Number(all));

    // A second bar joins with OR; a click on the first again lets it go.
    const second = await bar(page, 'income-by-route', 1);
    await asked(page, () => page.mouse.click(second.x, second.y));
    const [[two]] = (await demo.sql(
      "SELECT sum(passengers) FROM sailing s JOIN route r ON r.id = s.route_id WHERE r.name IN ('Lanternhead–Tolmarra', 'Lanternhead–Skerrin') AND departed_at >= '2025-12-01'",
    )) as [[string]];
    expect(await figure(page, 'passengers')).toBe(Number(two));
    await asked(page, () => page.getByRole('button', { name: 'Clear all' }).click());
    expect(await figure(page, 'passengers')).toBe(before);
  });

  test('the keyboard picks what the mouse picks, and a screen reader hears how many', async () => {
    const { page } = await demo.as('director', '/d/network');
    await settled(page);
    const list = tile(page, 'sailings-by-class').getByRole('listbox');
    expect(await list.getAttribute('aria-label')).toBe('Class: pie chart, 3 marks, 0 selected');
    await list.focus();
    await page.keyboard.press('ArrowRight');
    await asked(page, () => page.keyboard.press('Enter'));
    expect(await list.getAttribute('aria-label')).toContain('1 selected');
    expect(await page.getByLabel('What is picked').innerText()).toContain('Sounder');
    await asked(page, () => page.keyboard.press(' '));
    expect(await list.getAttribute('aria-label')).toContain('0 selected');
  });

  test('a picked quarter reaches the other tabs, a picked heat-map cell is a pair, and back walks through them', async () => {
    const { page } = await demo.as('director', '/d/network');
    await settled(page);
    const quarters = tile(page, 'passengers-by-quarter').getByRole('listbox');
    await quarters.focus();
    await page.keyboard.press('Home');
    await page.keyboard.press('ArrowRight');
    await asked(page, () => page.keyboard.press('Enter'));
    await asked(page, () => page.getByRole('tab', { name: 'Punctuality' }).click());
    expect(
      await tile(page, 'vessels')
        .getByRole('button', { name: /Filtered by 1: Quarter: Q1 2023/ })
        .count(),
    ).toBe(1);
    expect(await page.getByLabel('What is picked').innerText()).toContain('(tab Overview)');
    await tile(page, 'late-by-hour').getByRole('listbox').focus();
    await page.keyboard.press('Home');
    await asked(page, () => page.keyboard.press('Enter'));
    const total = await tile(page, 'vessels').locator('tfoot td').nth(2).innerText();
    const [[count]] = (await demo.sql(
      "SELECT count(*) FROM sailing WHERE departed_at >= '2023-01-01' AND departed_at < '2023-04-01' AND isodow(departed_at) = 1 AND hour(departed_at) = 5",
    )) as [[string]];
    expect(Number(total.replaceAll(',', ''))).toBe(Number(count));
    await asked(page, () => page.goBack());
    expect(await page.getByLabel('What is picked').innerText()).not.toContain('Weekday');
  });

  test('reading the data anew keeps what is picked', async () => {
    const { page } = await demo.as('director', '/d/network');
    await settled(page);
    const at = await bar(page, 'income-by-route', 0);
    await asked(page, () => page.mouse.click(at.x, at.y));
    const [address, carried] = [page.url(), await figure(page, 'passengers')];
    await asked(page, () => page.getByRole('button', { name: 'Read the data of this tab anew' }).click());
    await settled(page);
    expect(page.url()).toBe(address);
    expect(await figure(page, 'passengers')).toBe(carried);
    expect(await page.getByLabel('What is picked').innerText()).toContain('Lanternhead–Tolmarra');
  });

  test('a row of a table and a drop-down pick too', async () => {
    const { page } = await demo.as('director', '/d/tickets');
    await settled(page);
    await asked(page, () =>
      tile(page, 'routes')
        .getByRole('row', { name: /Skerrin–Ullavee/ })
        .click(),
    );
    const [[sailed]] = (await demo.sql(
      `${allSailings} s JOIN route r ON r.id = s.route_id WHERE r.name = 'Skerrin–Ullavee'`,
    )) as [[string]];
    expect(await figure(page, 'sailed')).toBe(Number(sailed));
    await tile(page, 'channel').locator('input').first().click();
    await asked(page, () => page.getByRole('option', { name: 'not given' }).click());
    expect(await page.getByLabel('What is picked').innerText()).toContain('not given');
    expect(
      await tile(page, 'sailed')
        .getByRole('button', { name: /Filtered by 1/ })
        .count(),
    ).toBe(1);
  });

  test('a copied link opens the same state under the rights of who opens it', async () => {
    const path = `/d/network?pick=${encodeURIComponent(JSON.stringify({ 'income-by-route': { members: [['Skerrin–Ullavee']] } }))}`;
    const director = await demo.as('director', path);
    await settled(director.page);
    expect(await director.page.getByLabel('What is picked').innerText()).toContain('Skerrin–Ullavee');
    const auditor = await demo.as('auditor', path);
    await settled(auditor.page);
    expect(await auditor.page.getByLabel('What is picked').innerText()).toContain(
      'One selection of this link was left out',
    );
    const desk = await demo.as('skerrin-desk', path);
    await settled(desk.page);
    expect(await tile(desk.page, 'sailings-by-class').innerText()).toContain('Of the rows you may see');
  });

  test('a tile on a hidden tab asks nothing until it is opened', async () => {
    const { page } = await demo.as('director');
    const questions: string[] = [];
    page.on('request', (r) => r.url().endsWith('/results') && questions.push(r.postData() ?? ''));
    await page.goto(`${demo.url}/d/network`);
    await settled(page);
    expect(questions.join()).not.toContain('vessels');
    await asked(page, () => page.getByRole('tab', { name: 'Punctuality' }).click());
    expect(questions.join()).toContain('vessels');
  });

  test('a link asks once for who is signed in, for its page and for its figures, whatever it carries', async () => {
    const link = (pick: object, set: object) =>
      `/d/network?${new URLSearchParams({ pick: JSON.stringify(pick), set: JSON.stringify(set) })}`;
    const links = [
      '/d/network',
      '/d/network?tab=punctuality',
      link({}, { late_after: ['15'] }),
      link({ 'sailings-by-class': { members: [['Swift']] } }, { late_after: ['15'] }),
    ];
    for (const path of links) {
      const { page } = await demo.as('director');
      const questions: string[] = [];
      page.on(
        'request',
        (r) => /\/api\/(session$|dashboards\/network(\?|$|\/results$))/.test(r.url()) && questions.push(r.method()),
      );
      await page.goto(demo.url + path);
      await settled(page);
      expect([path, questions]).toEqual([path, ['GET', 'GET', 'POST']]);
    }
  });

  test('an address is read as it stands, signs for percent in it as well', async () => {
    const { page } = await demo.as('director');
    const views = new Set<string | null>();
    page.on('request', (r) => {
      if (/\/api\/dashboards\/network\?/.test(r.url())) views.add(new URL(r.url()).searchParams.get('view'));
    });
    await page.goto(`${demo.url}/d/network?view=a%2541%26b`);
    await page.getByRole('heading', { name: 'No such view' }).waitFor();
    expect([...views]).toEqual(['a%41&b']);
    // What no address can mean is no dashboard, and no blank page.
    await page.goto(`${demo.url}/d/%zz`);
    await page.getByRole('heading', { name: 'No such dashboard' }).waitFor();
  });
});

describe('Arranging', () => {
  test('each change is kept and is there on another browser; undo and reset lead back', async () => {
    const { page } = await demo.as('developer', '/d/network');
    await settled(page);
    const saved = () => page.waitForResponse((r) => /\/view\//.test(r.url()) && r.status() === 200);
    await page.getByRole('button', { name: 'Arrange' }).click();

    // Drag a tile by its handle to the place of another.
    await page.locator('.react-grid-item').first().waitFor();
    await takeUp(page, tile(page, 'sailings-by-class').locator('[data-handle]'));
    const target = await tile(page, 'passengers-by-quarter').boundingBox();
    if (!target) throw new Error('There is nowhere to drop it.');
    const kept = saved();
    await page.mouse.move(target.x + 60, target.y + 30, { steps: 12 });
    await page.mouse.up();
    await kept;

    // A tab of one's own, a tile moved to it, a tile hidden.
    await page.getByRole('button', { name: 'Add tab' }).click();
    await page.getByLabel('Title').fill('My corner');
    await Promise.all([saved(), page.getByRole('button', { name: 'Add', exact: true }).click()]);
    await page.getByRole('tab', { name: 'Overview' }).click();
    await tile(page, 'income-by-month').getByRole('button', { name: /^Menu/ }).click();
    await Promise.all([saved(), page.getByRole('menuitem', { name: 'My corner' }).click()]);
    await tile(page, 'all-sailings').getByRole('button', { name: /^Menu/ }).click();
    await Promise.all([saved(), page.getByRole('menuitem', { name: 'Hide' }).click()]);
    // The arrow keys move a tile by a cell, with Shift they size it.
    await page.getByRole('group', { name: /^Income by route/ }).focus();
    await Promise.all([saved(), page.keyboard.press('ArrowDown')]);
    const height = async () => (await tile(page, 'income-by-route').boundingBox())?.height ?? 0;
    const before = await height();
    await Promise.all([saved(), page.keyboard.press('Shift+ArrowDown')]);
    await page.waitForFunction(
      (least) => (document.querySelector('[data-tile=income-by-route]')?.getBoundingClientRect().height ?? 0) > least,
      before + 40,
    );
    await page.getByRole('button', { name: 'Done' }).click();

    const other = await demo.as('developer', '/d/network');
    await settled(other.page);
    expect(await other.page.getByRole('tab').allInnerTexts()).toContainEqual(expect.stringContaining('My corner'));
    expect(await tile(other.page, 'all-sailings').count()).toBe(0);
    await asked(other.page, () => other.page.getByRole('tab', { name: 'My corner' }).click());
    expect(await tile(other.page, 'income-by-month').count()).toBe(1);

    await page.reload();
    await settled(page);
    expect(await tile(page, 'all-sailings').count()).toBe(0);
    await page.getByRole('button', { name: 'Arrange' }).click();
    for (let step = 0; step < 3; step++)
      await Promise.all([saved(), page.getByRole('button', { name: 'Undo' }).click()]);
    await tile(page, 'all-sailings').waitFor();
    await page.getByRole('button', { name: 'Begin anew' }).click();
    await Promise.all([saved(), page.getByRole('menuitem', { name: 'Back to the opening view', exact: true }).click()]);
    await page.getByRole('tab', { name: 'My corner' }).waitFor({ state: 'detached' });
    await Promise.all([saved(), page.getByRole('button', { name: 'Undo' }).click()]);
    await page.getByRole('tab', { name: 'My corner' }).waitFor();
  });
});

describe('A page that stays open', () => {
  test('takes a published version up by itself, within the same visit', async () => {
    const viewer = await demo.as('director', '/d/tickets');
    await settled(viewer.page);
    const { context } = await demo.as('developer');
    const { files } = (await (await context.request.get(`${demo.url}/api/definitions`)).json()) as {
      files: Record<string, string>;
    };
    const path = 'dashboards/tickets.yaml';
    const changed = { ...files, [path]: files[path]?.replace('title: Routes', 'title: Routes anew') };
    expect(
      (
        await context.request.put(`${demo.url}/api/definitions`, {
          data: { files: changed },
          headers: { Origin: demo.url },
        })
      ).ok(),
    ).toBe(true);
    await viewer.page.getByRole('heading', { name: 'Routes anew' }).waitFor();
    await settled(viewer.page);
    expect(
      (
        await context.request.put(`${demo.url}/api/definitions`, { data: { files }, headers: { Origin: demo.url } })
      ).ok(),
    ).toBe(true);
  });

  test('tells that another program holds the database, and goes on when it lets go', async () => {
    const other = await Demo.start();
    try {
      const release = await other.lock();
      const { page } = await other.as('director', '/d/network');
      await settled(page);
      expect(await tile(page, 'income').getByRole('alert').innerText()).toContain('another program holds its file');
      release();
      await tile(page, 'income').getByRole('button', { name: 'Try again' }).click();
      await tile(page, 'income').locator('[data-figure]').waitFor();
    } finally {
      await other.stop();
    }
  });
});

describe('Every page', () => {
  test.each([
    ['/', 'director'],
    ['/d/network', 'director'],
    ['/d/network?tab=punctuality', 'director'],
    ['/d/tickets', 'north-ports'],
  ])('%s has no serious fault of accessibility', async (path, account) => {
    const { page } = await demo.as(account, path);
    if (path !== '/') await settled(page);
    await expect.poll(() => seriousFaults(page)).toEqual([]);
  });

  test('the explanation shows the SQL, the row rule and what filters, and arranging has no serious fault', async () => {
    const { page } = await demo.as(
      'north-ports',
      `/d/network?pick=${encodeURIComponent('{"sailings-by-class":{"members":[["Swift"]]}}')}`,
    );
    await settled(page);
    await tile(page, 'income-by-route').getByRole('button', { name: /^Menu/ }).click();
    await page.getByRole('menuitem', { name: 'Where this comes from' }).click();
    await page.getByRole('heading', { name: 'SQL' }).waitFor();
    const panel = await page.getByRole('dialog').innerText();
    for (const text of ['home_port in user.ports', 'Class: Swift', 'GROUP BY', 'sum(fares) + sum(cafe)'])
      expect(panel).toContain(text);
    await expect.poll(() => seriousFaults(page)).toEqual([]);
    await page.getByRole('button', { name: 'Close' }).click();
    await page.getByRole('button', { name: 'Arrange' }).click();
    await page.getByRole('button', { name: 'Done' }).waitFor();
    await expect.poll(() => seriousFaults(page)).toEqual([]);
  });

  test('at 390 px the tiles stand in one column, in reading order', async () => {
    const { page } = await demo.as('director', '/d/network');
    await page.setViewportSize({ width: 390, height: 844 });
    await settled(page);
    const boxes = await page.locator('[data-tile]').evaluateAll((all) => all.map((t) => t.getBoundingClientRect().x));
    expect(new Set(boxes).size).toBe(1);
    expect(await page.locator('[data-tile]').first().getAttribute('data-tile')).toBe('sea-area');
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  });
});

describe('Pictures', () => {
  test('are drawn in their own type, however late it comes', async () => {
    const { context } = await demo.as('director');
    const page = await context.newPage();
    let release = () => {};
    const held = new Promise<void>((done) => {
      release = done;
    });
    let holds = 0;
    await page.route('**/*.woff2', async (route) => {
      holds++;
      await held;
      await route.continue();
    });
    await page.addInitScript(() => {
      // Pictures give a type up that does not come for long; how quick this machine is has no say in this test.
      const later = window.setTimeout;
      const withoutEnd = (done: () => void, wait?: number, ...rest: []) =>
        wait === 3_000 ? 0 : later(done, wait, ...rest);
      window.setTimeout = withoutEnd as typeof window.setTimeout;
      const write = CanvasRenderingContext2D.prototype.fillText;
      CanvasRenderingContext2D.prototype.fillText = function (...given) {
        (document.fonts.check(this.font) ? window.written : window.miswritten).push(given[0]);
        return write.apply(this, given);
      };
      window.written = [];
      window.miswritten = [];
    });
    const parts = page.waitForResponse(/assets\/Heatmap.*\.js/);
    await page.goto(`${demo.url}/d/network?tab=punctuality`);
    await parts;
    await tile(page, 'late').locator('[data-figure]').waitFor();
    expect(holds).toBeGreaterThan(0);
    expect(await page.locator('canvas').count()).toBe(0);
    release();
    await tile(page, 'late-by-hour').locator('canvas').first().waitFor();
    await settled(page);
    await expect.poll(() => page.evaluate(() => window.written)).toContain('Mon');
    expect(await page.evaluate(() => window.miswritten)).toEqual([]);
  });
});

declare global {
  interface Window {
    /** What was written on canvases in its own type, and in another. */
    written: string[];
    miswritten: string[];
  }
}
