import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, type Page } from '@playwright/test';
import { enterAs, tabTo, takeIn, test } from './shop';

const folder = mkdtempSync(path.join(tmpdir(), 'tavrek-logs-'));
test.afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A log as an inline meter writes it: idle, precharge, constant current, with a mistake in it. */
function writeLog(name: string, rows: number): string {
	const lines = ['# inline meter', 'Time (ms);Voltage (V);Current (mA);Power (W)'];
	for (let i = 0; i < rows; i++) {
		const amps = i < rows * 0.05 ? 0 : i < rows * 0.3 ? 61 + (i % 3) : 1400 + (i % 7);
		lines.push(
			`${i * 100};${amps > 100 ? '4,93' : '5,10'};${amps},${i % 10};${((amps * 5) / 1000).toFixed(2).replace('.', ',')}`
		);
	}
	lines.splice(1000, 0, 'restarted;;;');
	const file = path.join(folder, name);
	writeFileSync(file, lines.join('\r\n'));
	return file;
}
const openStep = async (page: Page, number: string, step: string) => {
	await page.goto(`/tickets/${number}`);
	await page.getByRole('tab', { name: step }).click();
	return page.getByRole('tabpanel', { name: step });
};

test('a whole side of readings from the multimeter, hands on the probe', async ({ page }) => {
	await enterAs(page, 'ines');
	const number = await takeIn(page, { model: { code: 'pelagic-40' } });
	const panel = await openStep(page, number, 'Read pins');
	await panel.getByLabel('Fault put in').selectOption('shorted-capacitor');
	// from here on nothing is typed
	let keys = 0;
	await page.exposeFunction('keyPressed', () => (keys += 1));
	await page.evaluate(() =>
		addEventListener('keydown', () => (window as unknown as { keyPressed(): void }).keyPressed())
	);
	await panel.getByRole('button', { name: 'Start reading' }).click();
	await expect(panel.getByRole('status').first()).toContainText('A1', { timeout: 15_000 });
	await expect(panel.getByText('12 of 24 read')).toBeVisible({ timeout: 60_000 });
	await expect(page.getByText(/Read 12 contacts, diode; A4.* short/)).toBeVisible();
	const row = (pin: string) =>
		panel.getByRole('row').filter({ has: page.getByRole('cell', { name: pin, exact: true }) });
	await expect(row('A4')).toContainText('short');
	await expect(row('A2')).toContainText('OL');
	await expect(row('A5')).toContainText('agrees');
	await expect(panel.getByLabel(/^Reading of B12/)).toBeVisible();
	await expect(panel.getByRole('button', { name: 'Start reading' })).toBeVisible();
	expect(keys).toBe(0);
});

test('a lost instrument says so, loses nothing taken, and goes on where it was', async ({ page }) => {
	await enterAs(page, 'ines');
	const number = await takeIn(page, { model: { code: 'tern-6' } });
	const panel = await openStep(page, number, 'Read pins');
	await page.route('**/instruments/**', (route) =>
		route.continue({ url: `${route.request().url()}&loseAfter=30` })
	);
	await panel.getByRole('button', { name: 'Start reading' }).click();
	await expect(panel.getByText('The instrument is lost.')).toBeVisible({ timeout: 20_000 });
	const before = Number((await panel.getByText(/^\d+ of 5 read$/).textContent())?.[0]);
	expect(before).toBeGreaterThan(0);
	expect(before).toBeLessThan(5);
	await page.unroute('**/instruments/**');
	await panel.getByRole('button', { name: 'Connect again' }).click();
	await expect(panel.getByText('5 of 5 read')).toBeVisible({ timeout: 30_000 });
	// saved: a page that is left in the same instant has not handed the last one over yet
	await expect(page.getByText('Read 5 contacts, diode.')).toBeVisible();
	await page.reload();
	await expect(page.getByText('Read 5 contacts, diode.')).toBeVisible();
});

test('a side typed on the number pad takes its digits and one key a contact', async ({ page }) => {
	await enterAs(page, 'ines');
	const number = await takeIn(page, { model: { code: 'pelagic-40' } });
	const panel = await openStep(page, number, 'Read pins');
	await tabTo(page, panel.getByLabel(/^Reading of A1,/));
	const side = ['1', '*', '*', '470', '730', '610', '612', '520', '471', '*', '*', '1'];
	let keys = 0;
	let digits = 0;
	for (const typed of side) {
		await page.keyboard.type(typed);
		keys += typed.length;
		if (typed === '*') continue;
		digits += typed.length;
		await page.keyboard.press('Enter');
		keys += 1;
	}
	await expect(panel.getByText('12 of 24 read')).toBeVisible();
	await expect(panel.getByLabel(/^Reading of B12/)).toBeFocused();
	expect(keys).toBeLessThanOrEqual(digits + side.length);
});

test('the power meter is read both ways round, the battery from the supply, and judged together', async ({
	page
}) => {
	await enterAs(page, 'ines');
	const number = await takeIn(page, { model: { code: 'gannet-c' } });
	const panel = await openStep(page, number, 'Plug in');
	await panel.getByLabel('Instrument').selectOption('supply');
	await panel.getByLabel('Fault put in').selectOption('input-fuse');
	await panel.getByRole('button', { name: 'Start reading' }).click();
	await expect(panel.getByText(/battery [\d.]+ V recorded/)).toBeVisible({ timeout: 20_000 });
	await panel.getByRole('button', { name: /Stop|Start reading/ }).click();
	await panel.getByLabel('Instrument').selectOption('power-meter');
	await panel.getByRole('button', { name: 'Start reading' }).click();
	await expect(panel.getByText(/side B [\d.]+ A recorded/)).toBeVisible({ timeout: 40_000 });
	await expect(panel.getByRole('cell', { name: /no current/ })).toHaveCount(2);
	await expect(panel.getByRole('cell', { name: /Not ruled out/ }).first()).toBeVisible();
	// what each outcome of the next step would do to the odds
	await page.getByText('What the answer would change').click();
	await expect(page.getByText(/^\d+ % → \d+ %$/).first()).toBeVisible();
});

test('a log of 200,000 rows is read in the browser; a larger one is cancelled', async ({ page }) => {
	await enterAs(page, 'ines');
	const number = await takeIn(page, { model: { code: 'pelagic-40' } });
	const panel = await openStep(page, number, 'Plug in');
	const file = panel.locator('input[type=file]').last();
	await file.setInputFiles(writeLog('large.csv', 490_000));
	await panel.getByRole('button', { name: 'Cancel' }).click();
	await expect(panel.getByText('Cancelled. Nothing was kept.')).toBeVisible();
	await expect(panel.getByText(/rows read/)).toHaveCount(0);

	await file.setInputFiles(writeLog('charge.csv', 200_000));
	await expect(panel.getByText('200,000 rows read')).toBeVisible({ timeout: 60_000 });
	await expect(panel.locator('summary').filter({ hasText: 'Read as' })).toContainText(
		'semicolon, decimal comma'
	);
	for (const phase of ['no current', 'precharge', 'constant current'])
		await expect(panel.getByRole('cell', { name: phase })).toBeVisible();
	await panel.getByText('Rows that could not be read').click();
	await expect(panel.getByText('line 1001 Voltage (V) is "", no number')).toBeVisible();
	const saved = page.waitForEvent('download');
	await panel.getByRole('button', { name: 'Save the trace as CSV' }).click();
	expect((await saved).suggestedFilename()).toBe('charge-trace.csv');
	await panel.getByRole('button', { name: 'Keep with the ticket' }).click();
	await expect(page.getByText(/Meter log charge.csv: no current, precharge, constant current/)).toBeVisible();

	// a person knows better: the current is in amperes after all
	await panel.getByText('correct it').click();
	await panel.getByLabel('Current (mA) in').selectOption('A');
	await panel.getByRole('button', { name: 'Apply' }).click();
	await expect(panel.getByText('200,000 rows read')).toBeVisible({ timeout: 60_000 });
	await expect(panel.getByRole('cell', { name: '1403.' }).first()).toBeVisible();
});

test('the power path halves the odds, continuity takes misses only, the soak gives its interval', async ({
	page
}) => {
	await enterAs(page, 'ines');
	const number = await takeIn(page, { model: { code: 'quayline' }, signs: { 'no-charge': true } });
	let panel = await openStep(page, number, 'Check board');
	const volts = panel.getByLabel(/^Volts at/);
	const found = panel.getByText(/The supply is lost between .*port controller/);
	for (let probes = 1; probes <= 6 && !(await found.isVisible()); probes++) {
		const name =
			(await volts.getAttribute('id')) && (await panel.locator('label[for=node-volts]').textContent());
		const lost = /coil|Charger|battery|controller/.test(name ?? '');
		await volts.fill(lost ? '0.1' : '5.02');
		await volts.press('Enter');
		await expect(volts).toHaveValue('');
		// the node that is advised next follows from what was taken
		await expect(panel.getByRole('button', { name: / V, / })).toHaveCount(probes);
		await expect(panel.getByText('not saved yet')).toHaveCount(0);
	}
	await expect(found).toBeVisible();
	await volts.fill('abc');
	await volts.press('Enter');
	await expect(panel.getByText('Volts is “abc”; write a number such as 4.98')).toBeVisible();

	panel = await openStep(page, number, 'Prove');
	await panel.getByRole('group', { name: 'Must not connect' }).getByRole('button', { name: '1–2' }).click();
	await expect(panel.getByText(/must not connect and do: a bridge/)).toBeVisible();
	await panel.getByRole('button', { name: 'Record 1 fault' }).click();
	await expect(page.getByText('Continuity: wrong at 1–2.')).toBeVisible();
	await panel.getByRole('button', { name: 'All correct' }).click();
	await expect(page.getByText(/Continuity: \d+ pairs correct/)).toBeVisible();
	for (const [minutes, percent] of [
		['0', '98'],
		['30', '93'],
		['60', '89'],
		['90', '84']
	] as const) {
		await panel.getByLabel('Minutes since start').fill(minutes);
		await panel.getByLabel('Battery, %').fill(percent);
		await panel.getByLabel('Battery, %').press('Enter');
		await expect(panel.getByText(`${percent} % at ${minutes} min`)).toBeVisible();
	}
	const soak = panel.getByRole('region', { name: 'Soak' });
	await expect(soak).toContainText('normal loss');
	await expect(soak).toContainText('from 4 looks');
});

test('known good: signatures stand there, a wrong reading is withdrawn with verdicts based on it', async ({
	page
}) => {
	await enterAs(page, 'ines');
	await page.goto('/known-good?model=pelagic-40');
	await expect(page.getByRole('row', { name: /cc1.*low.*Port controller/ }).first()).toBeVisible();
	await page.getByRole('button', { name: 'A4', exact: true }).click();
	const add = page.getByRole('region', { name: 'Add a reading by hand' });
	await add.getByLabel('Reading').fill('x12');
	await add.getByRole('button', { name: 'Add' }).click();
	await expect(add.getByText('Reading is “x12”; write 468 or 0.468, or OL for overload')).toBeVisible();
	await add.getByLabel('Reading').fill('212');
	await add.getByLabel('Contact').selectOption('A4');
	await add.getByRole('button', { name: 'Add' }).click();
	await expect(add.getByText('● Added A4')).toBeVisible();
	await page.getByRole('button', { name: 'withdraw the reading 0.212 of A4' }).click();
	await page.getByLabel('What is wrong with it').fill('probe slipped');
	await page.keyboard.press('Enter');
	await page.getByRole('link', { name: 'See every verdict based on it' }).click();
	await expect(page.getByText(/probe slipped.*verdicts were based on it/)).toBeVisible();
});

test('a connector of the shop’s own is drawn as it is typed', async ({ page }) => {
	await enterAs(page, 'odile');
	await page.goto('/settings/catalog?kind=connector');
	await page.getByLabel('Code', { exact: true }).fill('magnet-3');
	await page.getByLabel('Label', { exact: true }).fill('Magnetic, three pads');
	await page.getByLabel('Contacts in probing order').fill('P1 supply\nP2 data\nP3 gnd');
	await expect(page.getByRole('button', { name: 'P2 data: data' })).toBeVisible();
	await page.getByRole('button', { name: 'Save' }).click();
	await expect(page.getByText('● Saved magnet-3')).toBeVisible();
});
