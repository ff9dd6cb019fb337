import { readFileSync } from 'node:fs';
import { ALL_FORMATS, BufferSource, Input } from 'mediabunny';
import { choose, dataSheet, expect, member, openAndRun, openCopy, position, test } from './site';

test.describe('runs in time', () => {
  test('a run meets the stop when the closed form says; its instant is shown by the train, and charted quantities have their figures', async ({
    page,
    site,
  }) => {
    await openAndRun(page, site, 'Weed rake');
    await expect(page.getByText('Run, 241 instants over 24 s: one thing happens.')).toBeVisible();
    // 720 rev/min · 99/250 · 2/50 · 17/25 · 126π mm / 60 = 51.16 mm/s: the 400 mm to the stop take 7.818 s.
    const happened = page.getByRole('list', { name: 'Events' });
    await expect(happened).toContainText('7.818 s');
    await expect(happened).toContainText('the upper stop of “Rake guide” holds');
    await happened.getByRole('button', { name: '7.818 s' }).click();
    await member(page, 'Rake carriage').click();
    await expect(dataSheet(page)).toContainText(/Position\s*400\s*mm/);
    // Another quantity, found by name: its greatest is the place of the stop.
    await page.getByLabel('Find a quantity').fill('place rake guide');
    await page.getByRole('combobox', { name: 'Quantities charted' }).click();
    await page.getByRole('option', { name: 'Place of Rake guide' }).click();
    await page.keyboard.press('Escape');
    const figures = page.getByRole('table', { name: 'Figures: Place of Rake guide' }).getByRole('row').nth(1);
    // Least, greatest, and where it stands under the cursor.
    await expect(figures.getByRole('cell').nth(1)).toHaveText('0');
    await expect(figures.getByRole('cell').nth(2)).toHaveText('400');
    await expect(figures.getByRole('cell').nth(5)).toHaveText('400');
    await page.getByRole('button', { name: 'Back to the hand' }).click();
    await expect(dataSheet(page)).toContainText(/Position\s*0\s*mm/);
  });

  test('the trolley goes through its curve: each wheel by the length of its own rail', async ({ page, site }) => {
    await openCopy(page, site, 'Towpath trolley');
    await page.getByRole('button', { name: /^Motion/ }).click();
    await page.getByRole('button', { name: 'Through the curve', exact: true }).click();
    await page.getByRole('button', { name: 'Compute', exact: true }).click();
    await expect(page.getByText('Run, 151 instants over 15 s: nothing in particular happens.')).toBeVisible();
    await page.getByRole('slider', { name: 'Time of the run' }).focus();
    await page.keyboard.press('End');
    // A quarter of a turn at 6500 and 5500 mm, by wheels of 320 mm: 6500/640 and 5500/640 turns, which are 3656.25° and 3093.75°.
    for (const [name, place] of [
      ['Outer axle', /Position\s*[−-]3656\.25\s*deg/],
      ['Inner axle', /Position\s*3093\.75\s*deg/],
      ['Trolley', /Position\s*90\s*deg/],
    ] as const) {
      await member(page, name).click();
      await expect(dataSheet(page)).toContainText(place);
    }
  });

  test('a change makes a run stale, and it is computed again at a press; a long one is ended and keeps what it has', async ({ page, site }) => {
    await openCopy(page, site, 'Swing footbridge');
    await page.getByRole('button', { name: /^Motion/ }).click();
    const duration = page.getByLabel('Duration', { exact: true });
    await duration.fill('5');
    await duration.press('Enter');
    await page.getByRole('button', { name: 'Run', exact: true }).click();
    await expect(page.getByText(/instants over 5 s/)).toBeVisible();
    await duration.fill('6');
    await duration.press('Enter');
    await expect(page.getByText('The design has changed since this run.')).toBeVisible();
    await page.getByRole('button', { name: 'Compute it again' }).click();
    await expect(page.getByText(/instants over 6 s/)).toBeVisible();
    // The longest that can be asked for, of a linkage: it is ended as soon
    // as that can be done, and has fewer instants than it would have had.
    await openCopy(page, site, 'Inspection lift');
    await page.getByRole('button', { name: /^Motion/ }).click();
    const instants = page.getByLabel('Instants', { exact: true });
    await instants.fill('20000');
    await instants.press('Enter');
    await duration.fill('50');
    await duration.press('Enter');
    await page.getByRole('button', { name: 'Run', exact: true }).click();
    // At once: on a slow machine the run may be over before a press has found its place.
    await page.getByRole('button', { name: 'Stop run', exact: true }).dispatchEvent('click');
    const said = page.getByText(/^Run, \d+ instants over /);
    await expect(page.getByText('The design has changed since this run.')).toBeHidden();
    const got = Number(/^Run, (\d+)/.exec((await said.textContent())!.trim())![1]);
    expect(got).toBeGreaterThan(1);
    expect(got).toBeLessThan(20_000);
  });

  test('let go, the paddle is held by its pawl; with the pawl lifted it runs down to its stop', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await position(page).focus();
    for (let k = 0; k < 4; k++) await page.keyboard.press('Shift+ArrowUp');
    await page.getByRole('button', { name: /^Motion/ }).click();
    await page.getByRole('button', { name: 'Free run' }).click();
    const happened = page.getByRole('list', { name: 'Events' });
    await expect(happened).toContainText('“Ratchet and pawl” grips');
    await position(page).focus();
    await page.keyboard.press('Shift+ArrowDown');
    await page.getByRole('button', { name: /^Layout/ }).click();
    await page.getByRole('button', { name: 'Lift it' }).click();
    await page.getByRole('button', { name: /^Motion/ }).click();
    await page.getByRole('button', { name: 'Free run' }).click();
    await expect(happened).toContainText('the lower stop of “Paddle guide” holds');
    await expect(page.getByText(/moved, .* by [\d.]+ .*: nothing leads or holds them there/)).toBeVisible();
  });
});

test.describe('kept runs', () => {
  test('a run is kept under a name, comes back from this browser after a reload, is laid over another, and deleted', async ({ page, site }) => {
    await openAndRun(page, site, 'Weed rake');
    await expect(page.getByText(/^Run, 241 instants/)).toBeVisible();
    await page.getByRole('button', { name: 'Save run', exact: true }).click();
    const kept = page.getByRole('list', { name: 'Saved runs' });
    // The design has one of its own already.
    const own = kept.getByRole('listitem').nth(1);
    await expect(own).toContainText(/(?<!not )computed/);
    const name = page.getByRole('textbox', { name: 'Name', exact: true });
    await name.fill('Own rise');
    await name.press('Enter');
    await expect(kept.getByRole('button', { name: 'Own rise', exact: true })).toBeVisible();
    await expect(page.getByText('Saved', { exact: true })).toBeVisible();

    await page.reload();
    await page.getByRole('button', { name: /^Motion/ }).click();
    await expect(own).toContainText('not computed');
    await kept.getByRole('button', { name: 'Own rise', exact: true }).click();
    // What was computed before the reload is here without a press.
    await expect(page.getByText(/^Run, 241 instants over 24 s: one thing happens/)).toBeVisible();

    // Another, from stop to stop, and the kept one over it: the same quantity, two rows of figures.
    await kept.getByRole('button', { name: 'Unsaved run' }).click();
    await choose(page, 'Until', 'the other stop');
    await page.getByRole('button', { name: 'Run', exact: true }).click();
    // 1200 mm at 51.16 mm/s.
    await expect(page.getByText(/^Run, 241 instants over 23\.45 s/)).toBeVisible();
    await page.getByRole('checkbox', { name: 'Overlay Own rise' }).check();
    const torque = page.getByRole('table', { name: 'Figures: Torque of Rake motor' });
    await expect(torque.getByRole('row')).toHaveCount(3);
    await expect(torque).toContainText('Torque of Rake motor · Own rise');

    // A change of the design marks it, and undoing that takes the mark away.
    await page.getByRole('button', { name: /^Duty/ }).click();
    await page.getByRole('complementary', { name: 'Data sheet' }).getByRole('checkbox', { name: 'Include weight' }).uncheck();
    await page.getByRole('button', { name: /^Motion/ }).click();
    await expect(own).toContainText('changed since');
    await page.keyboard.press('Control+z');
    await expect(own).toContainText('computed');

    await page.getByRole('button', { name: 'Delete Own rise' }).click();
    await expect(kept.getByRole('listitem')).toHaveCount(2);
  });

  test('one that is laid over leaves the train where it is looked at; one that was ended is not taken for the whole later', async ({
    page,
    site,
  }) => {
    await openAndRun(page, site, 'Weed rake');
    await page.getByRole('button', { name: '7.818 s' }).click();
    await member(page, 'Rake carriage').click();
    await expect(dataSheet(page)).toContainText(/Position\s*400\s*mm/);
    const kept = page.getByRole('list', { name: 'Saved runs' }).getByRole('listitem').first();
    await expect(kept).toContainText('not computed');
    await page.getByRole('checkbox', { name: 'Overlay Up to the stop, tripped by the cam' }).check();
    await expect(kept).toContainText(/(?<!not )computed/);
    await expect(dataSheet(page)).toContainText(/Position\s*400\s*mm/);

    await openCopy(page, site, 'Inspection lift');
    await page.getByRole('button', { name: /^Motion/ }).click();
    await page.getByRole('button', { name: 'Raise under load', exact: true }).click();
    const instants = page.getByLabel('Instants', { exact: true });
    await instants.fill('20000');
    await instants.press('Enter');
    await page.getByRole('button', { name: 'Compute', exact: true }).click();
    await page.getByRole('button', { name: 'Stop run', exact: true }).click();
    await expect(page.getByText(/^Run, \d+ instants over /)).toBeVisible();
    await expect(page.getByText('Saved', { exact: true })).toBeVisible();
    await page.reload();
    await page.getByRole('button', { name: /^Motion/ }).click();
    await page.getByRole('button', { name: 'Raise under load', exact: true }).click();
    await expect(page.getByText('Compute: this run has not been computed in this browser yet.')).toBeVisible();
  });

  test('a curve is looked at in part by marking along the scale, and saved with every instant', async ({ page, site }) => {
    await openAndRun(page, site, 'Weed rake');
    const chart = page.getByRole('img', { name: 'Torque of Rake motor' }).first();
    await chart.scrollIntoViewIfNeeded();
    const figures = page.getByRole('table', { name: 'Figures: Torque of Rake motor' }).getByRole('row').nth(1);
    const whole = await figures.getByRole('cell').nth(1).textContent();
    const box = (await chart.boundingBox())!;
    await page.mouse.move(box.x + 0.2 * box.width, box.y + 0.95 * box.height);
    await page.mouse.down();
    await page.mouse.move(box.x + 0.3 * box.width, box.y + 0.95 * box.height, { steps: 4 });
    await page.mouse.up();
    // Before the stop the motor has the weed to draw: the least of that part is not the least of all.
    await expect(page.getByRole('button', { name: /the whole time again/ })).toBeVisible();
    await expect(figures.getByRole('cell').nth(1)).not.toHaveText(whole!);
    await page.getByRole('button', { name: /the whole time again/ }).click();
    await expect(figures.getByRole('cell').nth(1)).toHaveText(whole!);

    // The same by typing its ends; backwards is refused.
    const to = page.getByLabel('Charts to', { exact: true });
    await to.fill('5');
    await to.press('Enter');
    await expect(figures.getByRole('cell').nth(1)).not.toHaveText(whole!);
    const from = page.getByLabel('Charts from', { exact: true });
    await from.fill('6');
    await from.press('Enter');
    await expect(page.getByRole('alert').filter({ hasText: 'must begin before it ends' })).toBeVisible();
    const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save as CSV' }).first().click()]);
    const text = readFileSync(await file.path(), 'utf8')
      .trim()
      .split(/\r?\n/);
    expect(text).toHaveLength(242);
    expect(text[0]).toContain('Time, s');
    const last = text.at(-1)!.split(',').map(Number);
    expect(last[0]).toBe(24);
    await page.getByRole('button', { name: 'Save the chart: Torque of Rake motor' }).click();
    const [picture] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name: /PNG/ }).click()]);
    const png = readFileSync(await picture.path());
    expect(png.subarray(1, 4).toString()).toBe('PNG');
    // Twice as wide as the drawing.
    expect(png.readUInt32BE(16)).toBe(920);
  });
});

test.describe('motion over time', () => {
  test('a point of a profile is moved by keys and by dragging, a log leads the source and is laid over the run, bad files are refused', async ({
    page,
    site,
  }) => {
    await openCopy(page, site, 'Level board');
    await page.getByRole('button', { name: /^Duty/ }).click();
    await page.getByRole('button', { name: 'Rising water', exact: true }).first().click();
    const last = page.getByRole('slider', { name: 'Point 13' });
    await expect(last).toHaveAttribute('aria-valuetext', '6 s, 38.6 mm');
    await last.focus();
    await page.keyboard.press('ArrowUp');
    await expect(last).not.toHaveAttribute('aria-valuetext', '6 s, 38.6 mm');
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: /^Undo: Point 13/ }).click();
    await page.getByRole('button', { name: 'Rising water', exact: true }).first().click();
    await expect(last).toHaveAttribute('aria-valuetext', '6 s, 38.6 mm');
    await last.scrollIntoViewIfNeeded();
    const box = (await last.boundingBox())!;
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2 + 20, { steps: 4 });
    await page.mouse.up();
    const text = (await last.getAttribute('aria-valuetext'))!;
    expect(Number(/, ([\d.]+) mm/.exec(text)![1])).toBeLessThan(38);
    await expect(page.getByRole('button', { name: /^Undo: Point 13 of Rising water/ })).toBeVisible();

    const file = page.getByLabel('Log or table of motion');
    await file.setInputFiles({ name: 'notes.csv', mimeType: 'text/csv', buffer: Buffer.from('Name;Place\nLock;North\n') });
    await expect(page.getByRole('alert').filter({ hasText: 'notes.csv: no line of this log has two numbers' })).toBeVisible();
    // Decimal commas, milliseconds, centimetres, and a gap.
    const log = 'Gauge of the lock\nt [ms];Level (cm);Flow\n0;10,0;3\n1000;10,5;3\n2000;;3\n3000;12,0;4\n4000;11,0;4\n';
    await file.setInputFiles({ name: 'gauge.csv', mimeType: 'text/csv', buffer: Buffer.from(log) });
    await expect(page.getByText('4 values over 4 s, one line without a value bridged.')).toBeVisible();
    await page.getByRole('button', { name: 'Lead the source by it' }).click();
    await expect(page.getByRole('slider', { name: 'Point 4' })).toHaveAttribute('aria-valuetext', '4 s, 10 mm');
    await file.setInputFiles({ name: 'gauge.csv', mimeType: 'text/csv', buffer: Buffer.from(log) });
    await page.getByRole('button', { name: 'Overlay on the runs' }).click();

    await page.getByRole('button', { name: /^Motion/ }).click();
    await page.getByRole('button', { name: 'Run', exact: true }).click();
    await page.getByLabel('Find a quantity').fill('place float');
    await page.getByRole('combobox', { name: 'Quantities charted' }).click();
    await page.getByRole('option', { name: 'Place of Float guide' }).click();
    await page.keyboard.press('Escape');
    const figures = page.getByRole('table', { name: 'Figures: Place of Float guide' });
    // The computed place goes through the points of the log: both come to 20 mm at most.
    await expect(
      figures
        .getByRole('row', { name: /Level · gauge\.csv/ })
        .getByRole('cell')
        .nth(2),
    ).toHaveText('20');
    await expect(
      figures
        .getByRole('row', { name: /^\s*Place of Float guide/ })
        .getByRole('cell')
        .nth(2),
    ).toHaveText(/^\s*2[0-2]/);
  });
});

test('a film of a run has the pictures that it should, and plays', async ({ page, site }) => {
  await openCopy(page, site, 'Paddle winding gear');
  await page.getByRole('button', { name: /^Motion/ }).click();
  await choose(page, 'Until', 'one turn');
  await page.getByRole('button', { name: 'Run', exact: true }).click();
  await expect(page.getByText(/instants over 2 s/)).toBeVisible();
  await page.getByRole('button', { name: 'Film …' }).click();
  const dialog = page.getByRole('dialog', { name: /^Film of/ });
  await choose(page, 'Size', '854 × 480');
  await choose(page, 'Pictures a second', '12');
  await dialog.getByRole('checkbox', { name: 'with the first chart beneath' }).check();
  await expect(dialog).toContainText('2 s, 25 pictures');
  const [file] = await Promise.all([
    page.waitForEvent('download', { timeout: 60_000 }),
    dialog.getByRole('button', { name: 'Make the film' }).click(),
  ]);
  await expect(dialog.getByRole('status')).toContainText('25 pictures are in the film');
  const content = readFileSync(await file.path());
  const input = new Input({ source: new BufferSource(new Uint8Array(content)), formats: ALL_FORMATS });
  const track = (await input.getPrimaryVideoTrack())!;
  expect([track.displayWidth, track.displayHeight]).toEqual([854, 480]);
  expect((await track.computePacketStats()).packetCount).toBe(25);
  // In a page of no rules of its own: ours takes nothing from elsewhere.
  const other = await page.context().newPage();
  const played = await other.evaluate(
    async (data) => {
      const video = document.createElement('video');
      video.muted = true;
      video.src = data;
      await video.play();
      await new Promise((done) => (video.onended = done));
      return { duration: video.duration, width: video.videoWidth };
    },
    `data:video/${file.suggestedFilename().endsWith('mp4') ? 'mp4' : 'webm'};base64,${content.toString('base64')}`,
  );
  expect(played.duration).toBeCloseTo(25 / 12, 1);
  expect(played.width).toBe(854);
});

test('a run is played on the stand-in drive, and comes back as a run of its own; the stand-in sensor reads what is charted', async ({
  page,
  site,
}) => {
  await openCopy(page, site, 'Paddle winding gear');
  await page.getByRole('button', { name: /^Motion/ }).click();
  await choose(page, 'Until', 'one turn');
  await page.getByRole('button', { name: 'Run', exact: true }).click();
  await expect(page.getByText(/^Run, .* over 2 s/)).toBeVisible();
  await page.getByRole('button', { name: 'Stand-ins for a drive and a sensor' }).click();
  const limit = page.getByLabel('Current limit');
  await limit.fill('0');
  await limit.press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: /Current limit/ })).toBeVisible();
  await limit.fill('12');
  await limit.press('Enter');
  await page.getByRole('button', { name: 'Play it on the stand-in drive' }).click();
  const said = page.getByText(/^\s*The stand-in drive played [\d.]+ s: .* counts\./);
  await expect(said).toBeVisible();
  // One turn of an encoder of 4096 counts, less the last thousandth of a second.
  const counts = Number(/ends at (\d+) counts/.exec((await said.textContent())!)![1]);
  expect(Math.abs(counts - 4096)).toBeLessThan(8);
  const kept = page.getByRole('list', { name: 'Saved runs' });
  await expect(kept.getByRole('listitem').filter({ hasText: 'On the stand-in drive' })).toContainText(/as recorded.*computed/);
  // What the drive gives is what the run asked for.
  const rows = page.getByRole('table', { name: /^Figures: (Torque of|N·m)/ }).getByRole('row');
  const mean = async (name: RegExp): Promise<number> =>
    Number((await rows.filter({ hasText: name }).getByRole('cell').nth(3).textContent())!.replace('−', '-'));
  expect((await mean(/^\s*Stand-in drive: torque/)) / (await mean(/this run/))).toBeCloseTo(1, 2);
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save the log as CSV' }).click()]);
  expect(readFileSync(await file.path(), 'utf8')).toMatch(/Encoder, counts/);
  await page.getByRole('button', { name: 'Read it with the stand-in sensor' }).click();
  await expect(page.getByText(/^\s*The stand-in sensor gave 41 readings of/)).toBeVisible();
  await expect(page.getByRole('row', { name: /Stand-in sensor/ })).toBeVisible();
});

test('memory returns: after fifty runs there is no more of them than after ten', async ({ page, site }) => {
  test.slow();
  await openAndRun(page, site, 'Inspection lift');
  const devtools = await page.context().newCDPSession(page);
  const run = page.getByRole('button', { name: 'Run', exact: true });
  const instants = page.getByLabel('Instants', { exact: true });
  await instants.fill('2001');
  await instants.press('Enter');
  const heap = async (): Promise<number> => {
    await devtools.send('HeapProfiler.collectGarbage');
    const { usedSize, backingStorageSize } = (await devtools.send('Runtime.getHeapUsage')) as { usedSize: number; backingStorageSize: number };
    // What runs are made of lies in buffers, which are counted apart.
    expect(backingStorageSize).toBeGreaterThan(1e6);
    return (usedSize + backingStorageSize) / 1e6;
  };
  const times = async (count: number): Promise<void> => {
    for (let k = 0; k < count; k++) {
      await run.click();
      await expect(run).toBeEnabled();
    }
  };
  await times(10);
  await expect(page.getByText(/^Run, 2001 instants/)).toBeVisible();
  const ten = await heap();
  await times(50);
  const sixty = await heap();
  // A run of 2001 instants is more than a megabyte: fifty that stay would be sixty at the least.
  expect(sixty - ten).toBeLessThan(15);
});
