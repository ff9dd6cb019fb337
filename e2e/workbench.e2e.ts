import { axeFindings, dataSheet, deck, expect, layout, member, openCopy, position, test } from './site';

test.describe('the thin slice', () => {
  test('a changed tooth count changes ratio, layout and ledger to computed values, and the train is fitted again', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    // 30 rev/min · 18/108 = 5 rev/min; · 17 · 6 mm · π / 60 s = 26.70 mm/s
    await expect(member(page, 'Pinion shaft')).toHaveAccessibleName(/, 5 rev\/min ↺/);
    await expect(member(page, 'Paddle')).toHaveAccessibleName(/26\.7 mm\/s/);
    await member(page, 'Pinion shaft').click();
    await page.getByRole('complementary').getByRole('button', { name: 'Spur wheel', exact: true }).click();
    const drawn = Number(await layout(page).getAttribute('data-drawn'));
    const teeth = page.getByLabel('Teeth', { exact: true });
    await teeth.fill('9*10');
    await teeth.press('Enter');
    await expect(member(page, 'Pinion shaft')).toHaveAccessibleName(/, 6 rev\/min ↺/);
    await expect(member(page, 'Paddle')).toHaveAccessibleName(/32\.04 mm\/s/);
    await expect(deck(page)).toContainText('missed by 6.04 mm/s');
    await expect.poll(async () => Number(await layout(page).getAttribute('data-drawn'))).toBeGreaterThan(drawn);
    await expect(page.getByRole('button', { name: /Findings: 1 faults/ })).toBeVisible();
    await page.getByRole('button', { name: 'Fit the train', exact: true }).click();
    await expect(page.getByRole('button', { name: /Findings: 0 faults, 0 cautions/ })).toBeVisible();
    await page.getByRole('button', { name: /^Train/ }).click();
    await expect(page.getByRole('row', { name: /Pinion bearing/ })).toContainText('−1/5');
    await expect(page.getByRole('row', { name: /Paddle guide/ })).toContainText('102π/5');
    await expect(page.getByRole('row', { name: /^Pinion shaft/ })).toContainText('−6');
  });

  test('turning the crank by hand stops at the stop and says which', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    const crank = position(page);
    await crank.focus();
    await page.keyboard.press('Shift+ArrowUp');
    await expect(crank).toHaveAttribute('aria-valuenow', '1');
    await page.keyboard.press('PageUp');
    await expect(crank).toHaveAttribute('aria-valuenow', '1.25');
    // By the wheel, and by the pointer a quarter turn round.
    await crank.hover();
    await page.mouse.wheel(0, -100);
    await expect(crank).toHaveAttribute('aria-valuenow', '1.27');
    const box = (await crank.boundingBox())!;
    const [cx, cy] = [box.x + box.width / 2, box.y + box.height / 2];
    await page.mouse.move(cx, cy - 30);
    await page.mouse.down();
    for (let k = 1; k <= 9; k++) await page.mouse.move(cx + 30 * Math.sin((k * Math.PI) / 18), cy - 30 * Math.cos((k * Math.PI) / 18));
    await page.mouse.up();
    await expect.poll(async () => Number(await crank.getAttribute('aria-valuenow'))).toBeCloseTo(1.52, 2);
    for (let k = 0; k < 18; k++) {
      await crank.focus();
      await page.keyboard.press('Shift+ArrowUp');
    }
    // 900 mm over 17π mm per turn.
    await expect.poll(async () => Number(await crank.getAttribute('aria-valuenow'))).toBeCloseTo(900 / (17 * Math.PI), 4);
    await expect(page.getByText('Held by the top stop of “Paddle guide”')).toBeVisible();
    await member(page, 'Paddle').click();
    await expect(dataSheet(page)).toContainText('900');
    // Back down: the pawl holds until it is lifted.
    await crank.focus();
    await page.keyboard.press('Shift+ArrowDown');
    await expect(page.getByText('Held by “Ratchet and pawl”')).toBeVisible();
    await page.getByRole('button', { name: 'Lift it' }).click();
    await expect(page.getByLabel('Pawl lifted')).toBeChecked();
    await crank.focus();
    await page.keyboard.press('Home');
    await expect.poll(async () => Number(await crank.getAttribute('aria-valuenow'))).toBeCloseTo(0, 6);
  });

  test('dragging a member in the layout moves the train; a typed position and play do too', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await page.getByRole('button', { name: 'Side', exact: true }).click();
    const canvas = (await layout(page).boundingBox())!;
    // The paddle plate is the lowest part: drag it upward.
    const from = { x: canvas.x + canvas.width / 2, y: canvas.y + canvas.height * 0.85 };
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    for (let k = 1; k <= 6; k++) await page.mouse.move(from.x, from.y - 10 * k);
    await page.mouse.up();
    expect(Number(await position(page).getAttribute('aria-valuenow'))).toBeGreaterThan(1);
    const typed = page.getByLabel('Position of the source');
    // On from where the drag has come: the pawl lets nothing back.
    await typed.fill('9 + 1/4');
    await typed.press('Enter');
    await expect(position(page)).toHaveAttribute('aria-valuenow', '9.25');
    await page.getByRole('button', { name: 'Play at nominal speed' }).click();
    await expect.poll(async () => Number(await position(page).getAttribute('aria-valuenow'))).toBeGreaterThan(9.4);
    await page.getByRole('button', { name: 'Pause' }).click();
  });

  test('bad input stays beside its field and never reaches the design', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await member(page, 'Crankshaft').click();
    await page.getByRole('complementary').getByRole('button', { name: 'Crank pinion', exact: true }).click();
    const teeth = page.getByLabel('Teeth', { exact: true });
    for (const [text, words] of [
      ['18.5', 'Teeth must be a whole number'],
      ['2', 'at least 4'],
      ['abc', 'is no unit'],
      ['', 'missing'],
    ]) {
      await teeth.fill(text);
      await teeth.press('Enter');
      await expect(dataSheet(page).getByRole('alert')).toContainText(words);
      await expect(teeth).toHaveValue(text);
    }
    await expect(member(page, 'Pinion shaft')).toHaveAccessibleName(/, 5 rev\/min ↺/);
    await teeth.press('Escape');
    await expect(teeth).toHaveValue('18');
    const module = page.getByLabel('Module', { exact: true });
    await module.fill('25.4/6 mm');
    await module.press('Enter');
    await expect(module).toHaveValue('25.4/6 mm');
    await expect(dataSheet(page)).toContainText('76.2');
  });

  test('undo and redo walk through every edit', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await member(page, 'Crankshaft').click();
    await page.getByRole('complementary').getByRole('button', { name: 'Crank pinion', exact: true }).click();
    const teeth = page.getByLabel('Teeth', { exact: true });
    await teeth.fill('20');
    await teeth.press('Enter');
    await page.getByRole('button', { name: 'Fit the train', exact: true }).click();
    await page.getByRole('button', { name: 'Undo: Fit the train' }).click();
    await page.getByRole('button', { name: 'Undo: Teeth of Crank pinion' }).click();
    await expect(teeth).toHaveValue('18');
    await page.getByRole('button', { name: 'Redo: Teeth of Crank pinion' }).click();
    await expect(teeth).toHaveValue('20');
  });

  test('work is saved, and found again after a reload', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await page.getByLabel('Name of the design').fill('Winding gear, lower sluice');
    await page.getByLabel('Name of the design').press('Enter');
    // At once: what is not even on the disk yet survives that too.
    await page.reload();
    await expect(page.getByLabel('Name of the design')).toHaveValue('Winding gear, lower sluice');
    await page.getByRole('link', { name: 'All designs' }).click();
    await expect(page.getByRole('heading', { name: 'Winding gear, lower sluice' })).toBeVisible();
  });

  test('killing the server in the middle of edits loses none', async ({ page, site }) => {
    const id = await openCopy(page, site, 'Paddle winding gear');
    await member(page, 'Crankshaft').click();
    await page.getByRole('complementary').getByRole('button', { name: 'Crank pinion', exact: true }).click();
    const set = async (label: string, value: string) => {
      const f = page.getByLabel(label, { exact: true });
      await f.fill(value);
      await f.press('Enter');
    };
    await set('Teeth', '19');
    await site.kill();
    await set('Teeth', '21');
    await set('Face width', '48');
    await expect(page.getByText('Kept on this machine; sent when the server is back')).toBeVisible();
    // The page is closed while the server is away.
    await page.goto('about:blank');
    await site.start();
    await page.goto(`${site.url}design/${id}`);
    await expect(page.getByText('Saved', { exact: true })).toBeVisible();
    const stored = (await (await page.request.get(`${site.url}api/designs/${id}`)).json()) as {
      design: { elements: { id: string; teeth: number; width: number }[] };
    };
    expect(stored.design.elements.find((e) => e.id === 'z1')).toMatchObject({ teeth: 21, width: 48 });
  });

  test('two pages that save the same design: both versions are kept and a person decides', async ({ page, site }) => {
    const id = await openCopy(page, site, 'Paddle winding gear');
    const other = (await (await page.request.get(`${site.url}api/designs/${id}`)).json()) as { revision: number; design: { name: string } };
    await page.request.put(`${site.url}api/designs/${id}`, {
      data: { base: other.revision, save: crypto.randomUUID(), design: { ...other.design, name: 'From elsewhere' } },
    });
    await page.getByLabel('Name of the design').fill('From here');
    await page.getByLabel('Name of the design').press('Enter');
    const dialog = page.getByRole('dialog', { name: 'Saved elsewhere meanwhile' });
    await expect(dialog).toContainText('Your version is kept as revision 3, beside it.');
    await expect(dialog).toContainText('They cannot be joined');
    await dialog.getByRole('button', { name: 'Keep mine' }).click();
    await expect(page.getByText('Saved', { exact: true })).toBeVisible();
    const names = (await (await page.request.get(`${site.url}api/designs/${id}/revisions`)).json()) as { name: string }[];
    expect(names.slice(0, 3).map((n) => n.name)).toEqual(['From here', 'From here', 'From elsewhere']);
  });
});

test.describe('the demo designs', () => {
  for (const name of ['Fish-pass flap', 'Inspection lift', 'Level board', 'Screw gate', 'Swing footbridge', 'Towpath trolley', 'Weed rake']) {
    test(`${name} opens without trouble, meets what is wanted, and turns until a stop holds`, async ({ page, site }) => {
      const errors: string[] = [];
      page.on('pageerror', (e) => errors.push(e.message));
      await openCopy(page, site, name);
      await expect(page.getByRole('button', { name: /Findings: 0 faults, 0 cautions/ })).toBeVisible();
      await expect(deck(page).getByText('met', { exact: true }).first()).toBeVisible();
      await expect(deck(page)).not.toContainText('missed');
      const typed = page.getByLabel('Position of the source');
      await typed.fill('100000');
      await typed.press('Enter');
      await expect(page.getByText(/Held by the (top |bottom )?stop of/)).toBeVisible();
      await page.getByRole('button', { name: 'Home', exact: true }).click();
      await expect.poll(async () => Math.abs(Number(await position(page).getAttribute('aria-valuenow')))).toBeLessThan(1e-3);
      expect(errors).toEqual([]);
    });
  }

  test('a belt’s data sheet shows its length, wraps and strands', async ({ page, site }) => {
    await openCopy(page, site, 'Screw gate');
    await page
      .getByRole('group', { name: 'Train map' })
      .getByRole('button', { name: /Toothed belt/ })
      .first()
      .click();
    const sheet = dataSheet(page);
    for (const label of ['Length', 'Wrap on Motor wheel', 'Strand 1', 'Power lost']) await expect(sheet).toContainText(label);
    // The wheels in the order of the run, each by its name.
    const belt = sheet.getByRole('list', { name: 'Wheels, in the order of the run' }).getByRole('listitem');
    await expect(belt).toHaveCount(3);
    // One is taken out, and picked again in the map: it comes last.
    const names = await belt.allInnerTexts();
    await belt.first().getByRole('button').click();
    await expect(belt).toHaveCount(2);
    await sheet.getByRole('button', { name: 'Pick Wheels, in the order of the run in the map or the layout' }).click();
    await member(page, 'Motor shaft').click();
    await expect(belt).toHaveText([names[1], names[2], names[0]]);
    // Moved back to its place by keys.
    await belt.last().getByRole('button').focus();
    await page.keyboard.press('Control+ArrowUp');
    await expect(belt).toHaveText([names[1], names[0], names[2]]);
    await page.keyboard.press('Control+z');
    await expect(belt).toHaveText([names[1], names[2], names[0]]);
    await sheet.getByRole('button', { name: /^Pick Wheels, in the order/ }).click();
    await page.keyboard.press('Escape');
    await member(page, 'Gate').click();
    await expect(sheet.getByRole('textbox', { name: 'Name' })).toHaveValue('Gate');
  });
});

test.describe('the train map', () => {
  test('is walked by arrow keys, opens a linkage in place, shows ratios to the source, and keeps the height it is given', async ({ page, site }) => {
    await openCopy(page, site, 'Inspection lift');
    const map = page.getByRole('group', { name: 'Train map' });
    await member(page, 'Screw').focus();
    await page.keyboard.press('ArrowRight');
    await expect(map.getByRole('button', { name: /^Foot screw −6 mm\/rev/ })).toBeFocused();
    await page.keyboard.press('ArrowLeft');
    await expect(member(page, 'Screw')).toBeFocused();
    // The wheels of the two arms turn against each other; beside the screw they have no fixed ratio.
    const wheels = map.getByRole('button', { name: /^Balance gears|^Arm gears|−1$/ });
    await expect(wheels).toHaveCount(1);
    await page.getByRole('button', { name: 'Ratios to the source' }).click();
    await expect(map.getByRole('button', { name: /−1$/ })).toHaveCount(0);
    const box = map.getByRole('button', { name: /^Linkage of 6 members/ });
    await expect(map.getByRole('button', { name: 'Upper arm C, in the linkage' })).toBeVisible();
    await box.press('Enter');
    await expect(box).toHaveCount(0);
    await expect(member(page, 'Upper arm C')).toBeVisible();
    await page.getByRole('button', { name: 'Shut the linkages' }).click();
    await expect(box).toBeVisible();
    const border = page.getByRole('separator', { name: 'Border of the train map' }).first();
    const height = async (): Promise<number> => (await border.boundingBox())!.y;
    const before = await height();
    await border.press('ArrowUp');
    await expect.poll(height).toBeLessThan(before - 20);
    const set = await height();
    await page.reload();
    await expect(map).toBeVisible();
    await expect.poll(height).toBe(set);
  });
});

test.describe('loads', () => {
  test('are added at what is selected, stated, scaled by a load case, and the needed torque follows', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    const duty = page.getByRole('main');
    await page.getByRole('navigation', { name: 'Work order' }).getByRole('button', { name: 'Duty' }).click();
    await expect(duty.getByRole('row', { name: /Water on the paddle/ })).toContainText('3400 N');
    // A load on the pinion shaft's bearing: the crank has a sixth of it more to turn, over the spur pair's 0.97.
    await member(page, 'Pinion shaft').click();
    await duty.getByRole('button', { name: 'Load on a joint', exact: true }).click();
    const sheet = dataSheet(page);
    await expect(sheet).toContainText('Load on a joint');
    await sheet.getByLabel('Load', { exact: true }).fill('12');
    await sheet.getByLabel('Load', { exact: true }).press('Enter');
    const crank = member(page, 'Crankshaft');
    const torque = async (): Promise<number> =>
      Number(/([\d.]+) N·m/.exec((await crank.getAttribute('aria-label')) ?? (await crank.textContent()) ?? '')?.[1]);
    // 3879 N on the rack of 51 mm over 0.95, and 12 N·m beside it or against it, whichever way the shaft turns.
    const base = (3879.1 * 0.051) / 0.95;
    const due = [base + 12, base - 12].map((t) => t / 6 / 0.97);
    await expect
      .poll(async () => {
        const now = await torque();
        return Math.min(...due.map((d) => Math.abs(d - now)));
      })
      .toBeLessThan(0.02);
    await duty.getByRole('button', { name: 'Delete Load on a joint' }).click();

    const cases = page.getByRole('main');
    await cases.getByRole('button', { name: 'Load case', exact: true }).click();
    await cases.getByLabel('Water on the paddle, factor in Lifting').fill('2');
    await cases.getByLabel('Water on the paddle, factor in Lifting').press('Enter');
    // (479 N + 2 · 3400 N) · 51 mm / 0.95 / 6 / 0.97 at a crank of 350 mm.
    await expect(page.getByRole('table', { name: 'Load cases' }).getByRole('row', { name: /^Hand force/ })).toContainText('191.8 N');
    await expect(cases).toContainText('Hand force is missed most in Lifting, by 71.8 N');
    await cases.getByRole('radio', { name: 'Show Lifting' }).check();
    await expect(deck(page)).toContainText('Lifting');
    await expect.poll(torque).toBeCloseTo(67.15, 1);
    await page.getByRole('button', { name: 'Show as stated' }).click();
    await expect.poll(torque).toBeCloseTo(35.78, 1);
  });

  test('a force is put at a point of a member by a click in the layout', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await page.keyboard.press('3');
    await page.getByRole('button', { name: 'Tools' }).click();
    await page.getByRole('group', { name: 'Load at a point' }).getByRole('button', { name: 'Force' }).click();
    await expect(page.getByText('Click the point of a member')).toBeVisible();
    const box = (await layout(page).boundingBox())!;
    await page.mouse.click(box.x + box.width * 0.515, box.y + box.height * 0.72);
    const sheet = dataSheet(page);
    await expect(sheet).toContainText('Load · Force');
    await expect(sheet.getByRole('combobox', { name: 'Acts on' })).toHaveText('Paddle');
    await expect(page.getByRole('banner')).toContainText('no trouble');
  });
});

test.describe('the start page', () => {
  test('creates, renames, duplicates, deletes and brings back', async ({ page, site }) => {
    await page.goto(site.url);
    await expect(page.getByRole('link', { name: 'Open Paddle winding gear' }).first().locator('path').first()).toBeAttached();
    await page.getByRole('button', { name: 'New design' }).click();
    await expect(page.getByText('Nothing in the train yet.')).toBeVisible();
    await page.getByRole('link', { name: 'All designs' }).click();
    const card = page
      .getByRole('listitem')
      .filter({ has: page.getByRole('heading', { name: /^New drive train/ }) })
      .first();
    await card.getByRole('button', { name: 'Rename' }).click();
    const name = page.getByLabel('Name of the design');
    await name.fill('   ');
    await name.press('Enter');
    await expect(page.getByRole('alert')).toContainText('Name is missing');
    await name.fill('Sluice study');
    await name.press('Enter');
    const study = page.getByRole('listitem').filter({ has: page.getByRole('heading', { name: 'Sluice study', exact: true }) });
    await study.getByRole('button', { name: 'Duplicate' }).click();
    await expect(page.getByRole('heading', { name: 'Sluice study (copy)' })).toBeVisible();
    await study.getByRole('button', { name: 'Delete' }).click();
    await expect(page.getByRole('heading', { name: 'Sluice study', exact: true })).toHaveCount(0);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(page.getByRole('heading', { name: 'Sluice study', exact: true })).toBeVisible();
  });
});

test.describe('accessibility', () => {
  for (const theme of ['light', 'dark'] as const) {
    test(`axe finds nothing serious on any step, ${theme}`, async ({ page, site }) => {
      await page.addInitScript((t) => localStorage.setItem('unirota.theme', t), theme);
      await page.goto(site.url);
      await expect(page.getByRole('heading', { name: 'Unirota' })).toBeVisible();
      const check = async () => {
        expect((await axeFindings(page)).map((v) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 120)).join(' | ')}`)).toEqual([]);
      };
      await check();
      await openCopy(page, site, 'Paddle winding gear');
      await member(page, 'Pinion shaft').click();
      for (const step of ['Duty', 'Train', 'Layout', 'Motion', 'Loads', 'Rating', 'Release']) {
        await page.getByRole('navigation', { name: 'Work order' }).getByRole('button', { name: step }).click();
        await check();
      }
      // The tools of the layout, a stage being put in, a cam's tables, and what a change brings about.
      await page.keyboard.press('3');
      await page.getByRole('button', { name: 'Tools' }).click();
      await page.getByLabel('Centre distances').check();
      await page.getByRole('button', { name: 'Insert stage after Pinion shaft' }).press('Enter');
      await check();
      await dataSheet(page)
        .getByRole('button', { name: /^Cam and follower/ })
        .click();
      await check();
      await page.getByRole('button', { name: 'Insert', exact: true }).click();
      await dataSheet(page).getByRole('button', { name: 'Cam', exact: true }).click();
      await expect(page.getByRole('table', { name: 'Motion, segment by segment' })).toBeVisible();
      await check();
      await member(page, 'Pinion shaft').press('Enter');
      await dataSheet(page).getByRole('button', { name: 'Spur wheel', exact: true }).click();
      await page.getByLabel('Teeth', { exact: true }).fill('90');
      await page.getByLabel('Teeth', { exact: true }).press('Enter');
      await expect(dataSheet(page)).toContainText('Effects of this change');
      await check();
    });
  }

  test('the whole first screen can be reached and worked by keyboard', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await page.keyboard.press('2');
    await expect(page.getByRole('heading', { name: 'Ledger' })).toBeVisible();
    await page.keyboard.press('?');
    await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
    await page.keyboard.press('Escape');
    // While the dialog fades keys are still its own.
    await expect(page.getByRole('dialog', { name: 'Keys' })).toBeHidden();
    await page.keyboard.press(']');
    await expect(position(page)).toHaveAttribute('aria-valuenow', '0.25');
    await member(page, 'Paddle').focus();
    await page.keyboard.press('Enter');
    await expect(dataSheet(page)).toContainText('Member');
    // A stage, put in without the mouse.
    await page.keyboard.press('Escape');
    await member(page, 'Pinion shaft').focus();
    await page.keyboard.press('Enter');
    await page.keyboard.press('p');
    const kind = dataSheet(page).getByRole('button', { name: /^Chain/ });
    await kind.focus();
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Insert', exact: true }).focus();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('group', { name: 'Train map' }).getByRole('button', { name: /^Chain/ })).toBeVisible();
    await page
      .getByRole('group', { name: 'Train map' })
      .getByRole('button', { name: /^Chain/ })
      .focus();
    await page.keyboard.press('Enter');
    await page.keyboard.press('Delete');
    await expect(page.getByRole('group', { name: 'Train map' }).getByRole('button', { name: /^Chain/ })).toHaveCount(0);
    await page.keyboard.press('Control+z');
    await expect(page.getByRole('group', { name: 'Train map' }).getByRole('button', { name: /^Chain/ })).toBeVisible();
    // What takes more with it says so before: nothing goes without a yes.
    await member(page, 'Pinion shaft').click();
    await page.keyboard.press('Delete');
    const dialog = page.getByRole('dialog', { name: /^Delete Pinion shaft and the \d+ items attached\?$/ });
    await expect(dialog.getByRole('heading', { name: 'Deleted with it' })).toBeVisible();
    expect(await axeFindings(page)).toEqual([]);
    await dialog.getByRole('button', { name: 'Cancel' }).click();
    await expect(member(page, 'Pinion shaft')).toBeVisible();
    await page.keyboard.press('Delete');
    await dialog.getByRole('button', { name: 'Delete' }).click();
    await expect(member(page, 'Pinion shaft')).toHaveCount(0);
  });
});
