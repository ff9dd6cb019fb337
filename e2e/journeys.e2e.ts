import { Page } from '@playwright/test';
import { choose, dataSheet, deck, expect, Hands, layout, MAP, member, openCopy, openNew, position, SHEET, test } from './site';

const faults = (page: Page, n: number) => expect(page.getByRole('button', { name: new RegExp(`Findings: ${n} faults, 0 cautions`) })).toBeVisible();
/** The ratio row of a joint on Train. */
const ratio = (page: Page, joint: string) => page.getByRole('row', { name: new RegExp(`^${joint}`) });

test.describe('journeys from an empty sheet', () => {
  test('motor, toothed belt, spur pair, pinion and rack in under forty actions; a tooth count meets the wanted speed; a stop found by hand is saved', async ({
    page,
    site,
  }) => {
    await openNew(page, site, 'Rake drive');
    const h = new Hands(page);
    await h.step('Duty');
    await h.click(/Linear speed/);
    await h.type('Wanted value', '100');
    await h.type('Tolerance ±', '2');
    await h.click(/^(add )?Motor$/);
    await h.type('Nominal speed', '300');
    await h.put('Input shaft', /^Toothed belt/);
    await h.put('Shaft', /^Spur pair/);
    // Its sizes begin where the wanted speed is met; a pinion of 20 teeth is what lies on the shelf.
    await h.put('Shaft 2', /^Rack and pinion/, { 'Teeth of the pinion': '20' });
    // 300 · 20/40 · 20/60 = 50 rev/min; · π · 2 mm · 20 / 60 s = 104.72 mm/s.
    await expect(deck(page)).toContainText('104.7 mm/s');
    await expect(deck(page)).toContainText('missed by 4.72 mm/s');
    await faults(page, 0);
    const built = h.actions;
    expect(built).toBeLessThan(40);
    // One tooth count: the spur wheel with 63 teeth gives 99.73 mm/s. The change brings an open mesh about, and offers its cure.
    await member(page, 'Shaft 2').click();
    await dataSheet(page).getByRole('button', { name: 'Wheel', exact: true }).first().click();
    await h.type('Teeth', '63');
    await expect(deck(page)).toContainText('99.73 mm/s');
    await expect(dataSheet(page)).toContainText('Effects of this change');
    await dataSheet(page).getByRole('button', { name: 'Set the working distance and the phase', exact: true }).first().click();
    await faults(page, 0);
    await expect(deck(page)).toContainText('met');
    await h.step('Train');
    await expect(ratio(page, 'Rack slide guide')).toContainText('400π/63');
    // By hand to a place, and that place becomes the stop.
    const typed = page.getByLabel('Position of the source');
    await typed.fill('6.3');
    await typed.press('Enter');
    await member(page, 'Rack slide').click();
    await dataSheet(page).getByRole('button', { name: 'Rack slide guide', exact: true }).click();
    // The spur pair turns the sense round, so this way is down.
    await dataSheet(page)
      .getByRole('button', { name: /^lower stop/ })
      .click();
    await expect(page.getByLabel(/^Lower stop( \(top\))?$/)).toHaveValue('−125.6637');
    await position(page).focus();
    for (let k = 0; k < 3; k++) await page.keyboard.press('Shift+ArrowUp');
    await expect.poll(async () => Number(await position(page).getAttribute('aria-valuenow'))).toBeCloseTo(6.3, 3);
    console.log(`a gear and rack drive from an empty sheet: ${built} actions`);
  });

  test('a planetary reducer: ring held, then sun held; a set that cannot be put together is refused with ones that can', async ({ page, site }) => {
    await openNew(page, site, 'Reducer');
    const h = new Hands(page);
    await h.step('Duty');
    await h.click(/^(add )?Motor$/);
    await h.put('Input shaft', /^Planetary set/);
    await h.step('Train');
    // 1/(1 + 84/24) = 2/9, exactly.
    await expect(ratio(page, 'Planet carrier bearing')).toContainText('2/9');
    await faults(page, 0);
    await page.keyboard.press('Control+z');
    await h.click('Insert stage after Input shaft', MAP);
    await h.click(/^Planetary set/, SHEET);
    await h.choose('Held', 'sun');
    await h.click('Insert', SHEET);
    await expect(ratio(page, 'Planet carrier bearing')).toContainText('7/9');
    await page.keyboard.press('Control+z');
    await h.click('Insert stage after Input shaft', MAP);
    await h.click(/^Planetary set/, SHEET);
    await h.type('Teeth of the sun', '25');
    await expect(dataSheet(page).getByRole('alert').first()).toContainText('divisible by 3');
    await expect(page.getByRole('button', { name: 'Insert', exact: true })).toBeDisabled();
    await dataSheet(page)
      .getByRole('button', { name: /^Sun \d+, planets/ })
      .first()
      .click();
    await h.click('Insert', SHEET);
    await faults(page, 0);
  });

  test('two wheels fast on one shaft, a belt to a second; the ratio from rims; a wheel moved along its shaft is out of line', async ({
    page,
    site,
  }) => {
    await openNew(page, site, 'Countershaft');
    const h = new Hands(page);
    await h.step('Duty');
    await h.click(/^(add )?Motor$/);
    await h.put('Input shaft', /^V-belt/, { 'Diameter of the driver': '90 mm', 'Diameter of the driven': '225' });
    await h.put('Input shaft', /^V-belt/, { 'Direction of the line of centres': '120' });
    await h.step('Train');
    await expect(ratio(page, 'Shaft bearing')).toContainText('2/5');
    await member(page, 'Input shaft').click();
    await expect(dataSheet(page).getByRole('button', { name: /^Pulley( \d+)?$/ })).toHaveCount(2);
    await dataSheet(page).getByRole('button', { name: 'Pulley', exact: true }).first().click();
    // The driven rim measured round: 706.858 mm is 225 mm across, and offered by the helper.
    await expect(page.getByLabel('Pitch diameter', { exact: true })).toHaveValue('90');
    await page.getByRole('button', { name: 'measured …' }).first().click();
    await expect(dataSheet(page)).toContainText('d = U / π');
    await page.getByRole('button', { name: 'measured …' }).first().click();
    await member(page, 'Input shaft').click();
    const along = dataSheet(page).getByLabel('Place along the axis').first();
    await along.fill('7');
    await along.press('Enter');
    await expect(dataSheet(page)).toContainText("out of the belt's plane");
    await dataSheet(page)
      .getByRole('button', { name: /into line/ })
      .first()
      .click();
    await faults(page, 0);
  });

  test('a rack in a swivelling guide driving a flap: mobility is counted down, in words, as joints and couplings come', async ({ page, site }) => {
    await openCopy(page, site, 'Fish-pass flap');
    const h = new Hands(page);
    await h.step('Train');
    const words = page.getByRole('main');
    await expect(words).toContainText('One freedom. Every freedom has a source.');
    const map = page.getByRole('group', { name: 'Train map' });
    // What its loop of joints ties is one box, which opens in place.
    await map.getByRole('button', { name: /^Linkage of 3 members/ }).press('Enter');
    await expect(page.getByRole('button', { name: 'Shut the linkages' })).toBeVisible();
    // Taken apart, down to four members on their own.
    for (const name of [/^Rack mesh/, /^Flap pin/]) {
      await map.getByRole('button', { name }).press('Enter');
      await page.keyboard.press('Delete');
    }
    await expect(words).toContainText('4 freedoms. 3 without a source.');
    await expect(words.getByRole('button', { name: 'Show this freedom' })).toHaveCount(3);
    await expect(page.getByRole('banner')).toContainText('free: nothing drives');
    // A pin between the bar and the flap: two freedoms go, and bar, guide and flap move together.
    await member(page, 'Rack bar').click();
    await member(page, 'Flap').click({ modifiers: ['Control'] });
    await page
      .getByRole('group', { name: 'Add a joint' })
      .getByRole('button', { name: /^Revolute/ })
      .click();
    await expect(dataSheet(page)).toContainText('Joint · Revolute');
    await page.getByLabel('Place on the carried member x').fill('-132.191029084');
    await page.getByLabel('Place on the carried member x').press('Enter');
    await page.getByLabel('Place on the carried member y').fill('-618.096965888');
    await page.getByLabel('Place on the carried member y').press('Enter');
    await expect(words).toContainText('2 freedoms. 1 without a source.');
    await expect(words).toContainText('move together');
    // The mesh takes the last one.
    await member(page, 'Crankshaft').click();
    await dataSheet(page).getByRole('button', { name: 'Pinion', exact: true }).click();
    await member(page, 'Rack bar').click({ modifiers: ['Control'] });
    await dataSheet(page)
      .getByRole('button', { name: 'Rack', exact: true })
      .click({ modifiers: ['Control'] });
    await choose(page, 'Add a coupling', 'Rack mesh');
    await expect(words).toContainText('One freedom. Every freedom has a source.');
    await faults(page, 0);
    await map.getByRole('button', { name: /^Source of/ }).press('Enter');
    await page.keyboard.press('Delete');
    // A wanted torque refers to it.
    const asked = page.getByRole('dialog', { name: /^Delete/ });
    await expect(asked.getByRole('heading', { name: 'Stays, but refers to something deleted' })).toBeVisible();
    await asked.getByRole('button', { name: 'Delete' }).click();
    await expect(words).toContainText('One freedom. 1 without a source.');
    await expect(words).toContainText('move together');
    await words.getByRole('button', { name: 'Show this freedom' }).click();
    await expect(layout(page)).toBeVisible();
    await h.step('Train');
    await words
      .getByRole('button', { name: /^Drive “/ })
      .first()
      .click();
    await expect(words).toContainText('Every freedom has a source.');
  });

  test('a screw gate with its stops from faces: the gate made taller, the stop follows', async ({ page, site }) => {
    await openCopy(page, site, 'Screw gate');
    await expect(deck(page)).toContainText('1200 mm');
    await member(page, 'Gate').click();
    await dataSheet(page).getByRole('button', { name: 'Gate leaf', exact: true }).click();
    const height = page.getByLabel('Height along z', { exact: true });
    await height.fill('1300');
    await height.press('Enter');
    // Fifty more above and below: a hundred less to go.
    await expect(deck(page)).toContainText('1100 mm');
    await expect(deck(page)).toContainText('missed by −100 mm');
    await page.getByRole('button', { name: /^Train/ }).click();
    await expect(deck(page)).toContainText('Gate guide top');
  });

  test('a pair of equal wheels limited to half a turn in all: the hand stops at both ends', async ({ page, site }) => {
    await openNew(page, site, 'Half turn');
    const h = new Hands(page);
    await h.step('Duty');
    await h.click(/Hand crank/);
    await h.put('Input shaft', /^Spur pair/, { 'Teeth of the wheel': '20' });
    await member(page, 'Shaft').click();
    await dataSheet(page).getByRole('button', { name: 'Shaft bearing', exact: true }).click();
    // Typed the wrong way round: kept in order all the same.
    await h.type('Lower stop', '90');
    await h.type('Upper stop', '-90');
    await position(page).focus();
    for (let k = 0; k < 3; k++) await page.keyboard.press('PageUp');
    await expect(position(page)).toHaveAttribute('aria-valuenow', '0.25');
    await h.step('Layout');
    await position(page).focus();
    await page.keyboard.press('PageUp');
    await expect(page.getByText(/Held by the stop of “Shaft bearing” at −?90°/)).toBeVisible();
    for (let k = 0; k < 5; k++) await page.keyboard.press('PageDown');
    await expect(position(page)).toHaveAttribute('aria-valuenow', '-0.25');
  });

  test('float wheel, two dials and a slide by proportional couplings: turn to turn, turn to travel, travel to travel', async ({ page, site }) => {
    await openNew(page, site, 'Float and dials');
    const h = new Hands(page);
    await h.step('Duty');
    await h.click(/Hand crank/);
    await h.put('Input shaft', /^Proportional motion/, { 'This much of the driver': '1', 'moves it by': '3.2' });
    await h.click('Insert stage after Input shaft', MAP);
    await h.click(/^Proportional motion/, SHEET);
    await h.choose('What is moved', 'slide');
    await h.type('moves it by', '8');
    await h.click('Insert', SHEET);
    await expect(dataSheet(page)).toContainText('1 turn of Input shaft bearing moves Indicator slide guide by 8 mm');
    await h.click('Insert stage after Indicator slide', MAP);
    await h.click(/^Proportional motion/, SHEET);
    await h.choose('What is moved', 'slide');
    await h.type('moves it by', '1.6');
    await h.click('Insert', SHEET);
    await expect(dataSheet(page)).toContainText('1 mm of Indicator slide guide moves Indicator slide 2 guide by 1.6 mm');
    await h.step('Train');
    await expect(ratio(page, 'Pointer shaft bearing')).toContainText('16/5');
    await expect(ratio(page, 'Indicator slide guide')).toContainText('8 mm/rev');
    await expect(ratio(page, 'Indicator slide 2 guide')).toContainText('64/5');
    await member(page, 'Pointer shaft').click();
    await member(page, 'Indicator slide 2').click({ modifiers: ['Control'] });
    await expect(page.getByText('Pointer shaft → Indicator slide 2 4 mm/rev', { exact: false })).toBeVisible();
  });
});

test.describe('working in the layout', () => {
  test('dimensions, hiding, sections, kept views and overlap are there; a member moved alone goes back', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await page.getByRole('button', { name: 'Tools' }).click();
    await page.getByLabel('Centre distances').check();
    // m (z1 + z2)/2 = 4 · 126/2
    await expect(page.getByRole('main').getByText('a 252')).toBeVisible();
    await page.getByLabel('Travel and stops').check();
    await expect(page.getByRole('main').getByText('900').first()).toBeVisible();
    await member(page, 'Paddle').click();
    await page.getByRole('button', { name: 'Only these' }).click();
    await page.getByRole('button', { name: 'Show all' }).click();
    await choose(page, 'Section across', 'across y');
    await choose(page, 'Section across', 'none');
    await page.getByRole('button', { name: 'Save view' }).click();
    await expect(page.getByLabel('Name of the view')).toHaveValue('View 1');
    await page.getByRole('button', { name: 'At this position' }).click();
    await expect(page.getByText('Nothing overlaps at this position.')).toBeVisible();
    await page.getByRole('button', { name: 'From stop to stop' }).click();
    await expect(page.getByText('Nothing overlaps at 40 positions')).toBeVisible({ timeout: 30_000 });
    // A phase that is off shows its overlap, and is set again with the angle said.
    await member(page, 'Pinion shaft').click();
    await dataSheet(page).getByRole('button', { name: 'Spur wheel', exact: true }).first().click();
    await page.getByLabel('Phase', { exact: true }).fill('0');
    await page.getByLabel('Phase', { exact: true }).press('Enter');
    await page.getByRole('button', { name: 'At this position' }).click();
    await expect(page.getByText(/Spur pair: profiles overlap by [\d.]+ mm²/)).toBeVisible();
    await expect(page.getByRole('main').getByText(/^[\d.]+ mm²$/)).toBeVisible();
    await page.getByRole('button', { name: 'Set all phases' }).click();
    await expect(page.getByText(/Spur wheel turned by 1\.66667°/)).toBeVisible();
    // Alone, for a look.
    await page.getByLabel('Turn alone').check();
    await page.getByRole('button', { name: 'Side', exact: true }).click();
    const canvas = (await layout(page).boundingBox())!;
    const from = { x: canvas.x + canvas.width / 2, y: canvas.y + canvas.height * 0.85 };
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    for (let k = 1; k <= 5; k++) await page.mouse.move(from.x, from.y - 10 * k);
    await page.mouse.up();
    expect(Number(await position(page).getAttribute('aria-valuenow'))).toBe(0);
  });

  test('a shaft placed by dragging round its driving axis keeps its mesh', async ({ page, site }) => {
    await openNew(page, site, 'Placing');
    const h = new Hands(page);
    await h.step('Duty');
    await h.click(/^(add )?Motor$/);
    await h.put('Input shaft', /^Spur pair/);
    await h.step('Layout');
    await page.getByRole('button', { name: 'Front', exact: true }).click();
    await page.getByRole('button', { name: 'Tools' }).click();
    await page.getByLabel('Place round').check();
    const c = (await layout(page).boundingBox())!;
    // The wheel is the larger one, to the right of the middle.
    const at = { x: c.x + c.width * 0.55, y: c.y + c.height * 0.5 };
    await page.mouse.move(at.x, at.y);
    await page.mouse.down();
    for (let k = 1; k <= 8; k++) await page.mouse.move(at.x, at.y - 12 * k);
    await expect(page.getByText(/turned by .*° round the driving axis/)).toBeVisible();
    await page.mouse.up();
    await expect(page.getByRole('button', { name: 'Undo: Place a member' })).toBeVisible();
    await faults(page, 0);
  });
});

test.describe('the ledger and the keyboard', () => {
  test('the ledger sorts, is saved as CSV, and stages are copied, grouped and undone by keys', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await page.keyboard.press('2');
    const rows = page
      .getByRole('table', { name: 'Ledger' })
      .getByRole('row')
      .filter({ has: page.getByRole('cell') });
    await page.getByRole('button', { name: /^Torque or force/ }).click();
    await expect(rows.first()).toContainText('Paddle');
    await page.getByRole('button', { name: /^Torque or force/ }).click();
    await expect(rows.first()).toContainText('Crankshaft');
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Save as CSV' }).click();
    const stream = await (await download).createReadStream();
    let text = '';
    for await (const part of stream) text += String(part);
    expect(text.split('\r\n')[0]).toBe('Member,Relative speed,Unit,Absolute speed,Unit,Torque or force,Unit,Power,Unit');
    expect(text).toMatch(/Pinion shaft,-5(\.0+\d*)?,rev\/min/);
    await member(page, 'Paddle').click();
    await page.keyboard.press('p');
    await expect(dataSheet(page)).toContainText('Paddle');
    await page.keyboard.press('Escape');
    await page.keyboard.press('Control+d');
    await expect(page.getByRole('group', { name: 'Train map' }).getByRole('button', { name: /^Paddle 2, / })).toBeVisible();
    await page.keyboard.press('Control+z');
    await expect(page.getByRole('group', { name: 'Train map' }).getByRole('button', { name: /^Paddle 2, / })).toHaveCount(0);
    await page.keyboard.press('?');
    await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('Insert stage');
  });
});
