import { expect } from '@playwright/test';
import { enterAs, takeIn, test } from './shop';

test('the points of a board are placed on its picture by pointing, and read at the bench by keys, before and with the old port off', async ({
	page
}) => {
	await enterAs(page, 'odile');
	await page.goto('/settings/boards?model=tern-9');
	await expect(page.getByText('No points yet.')).toBeVisible();
	const shot = await page.screenshot({ clip: { x: 0, y: 0, width: 640, height: 400 } });
	const file = page.locator('input[type=file]');
	await file.setInputFiles([{ name: 'c.png', mimeType: 'image/png', buffer: Buffer.from('no picture') }]);
	await expect(page.getByText(/c\.png cannot be read as a picture/)).toBeVisible();
	await file.setInputFiles([{ name: 'board.png', mimeType: 'image/png', buffer: shot }]);
	const picture = page.getByAltText('The front of the board');
	await expect(picture).toBeVisible();
	await expect
		.poll(() => picture.evaluate((image: HTMLImageElement) => image.naturalWidth))
		.toBeGreaterThan(100);

	// a point where the board is pointed at, moved by keys, told apart by its fields
	const box = (await picture.boundingBox()) as { x: number; y: number; width: number; height: number };
	await page.mouse.click(box.x + box.width * 0.25, box.y + box.height * 0.5);
	await expect(page.getByRole('heading', { name: 'Point p1' })).toBeVisible();
	await page.keyboard.press('ArrowRight');
	await page.getByLabel('Code', { exact: true }).fill('c12');
	await page.getByLabel('What it is').fill('Capacitor by the port chip');
	await page.getByLabel('Chip (optional)').fill('port-chip');
	await page.getByLabel('Line (optional)').fill('vbus');
	await page.getByRole('heading', { name: 'Boards' }).click();
	await page.keyboard.press('a');
	await page.getByLabel('Code', { exact: true }).fill('tp2');
	await page.keyboard.press('Tab');
	await page.getByLabel('Grounded on a good board').selectOption('one-side');
	await page.getByRole('button', { name: 'Save the board' }).click();
	// what is wrong is named at its point, and nothing is lost
	await expect(page.getByText(/tp2 with .*one-side/).first()).toBeVisible();
	await page.getByLabel('Grounded on a good board').selectOption('never');
	await page.getByRole('checkbox', { name: 'read once the old port is off' }).check();
	await page.getByRole('button', { name: 'Save the board' }).click();
	await expect(page.getByText('● Saved')).toBeVisible();
	await page.reload();
	await expect(page.getByRole('button', { name: 'c12, Capacitor by the port chip' })).toBeVisible();
	await expect(page.getByRole('cell', { name: 'not placed' })).toBeVisible();
	const address = (await picture.getAttribute('src')) ?? '';
	expect((await page.request.get(address)).headers()['content-type']).toBe('image/jpeg');
	expect((await page.request.get(`/boards/${'0'.repeat(64)}`)).status()).toBe(404);

	// at the bench: the next point is lit, its reading typed
	const number = await takeIn(page, { model: { code: 'tern-9' } });
	await page.goto(`/tickets/${number}`);
	await page.getByRole('tab', { name: 'Read pins' }).click();
	const points = page.getByRole('region', { name: 'Points of the board' });
	const reading = points.getByLabel('Reading of c12, diode mode');
	await expect(reading).toBeVisible();
	await points.getByLabel('note').fill('0.00 = this chip');
	await reading.press('/');
	const row = points.getByRole('row').filter({ hasText: 'c12' });
	await expect(row).toContainText('short');
	await expect(row).toContainText('“0.00 = this chip”');
	await expect(
		page.getByText(/Read 1 point of the board, diode; Capacitor by the port chip is at ground/)
	).toBeVisible();
	const odds = page.getByRole('region', { name: 'Odds' });
	await expect(odds.getByText(/Capacitor by the port chip is at ground/).first()).toBeVisible();

	// the old port comes off: what is read now is of that moment, and the other point is asked for
	const { version } = (await (await page.request.get(`/tickets/${number}/plan`)).json()) as {
		version: number;
	};
	const removed = await page.request.post(`/tickets/${number}/change`, {
		headers: { origin: new URL(page.url()).origin },
		data: {
			version,
			once: crypto.randomUUID(),
			change: {
				verb: 'attempt',
				operation: 'remove-port',
				technician: 'ines',
				minutes: 18,
				resolved: false,
				part: true
			}
		}
	});
	expect(await removed.text()).toContain('"ok":true');
	await page.reload();
	await page.getByRole('tab', { name: 'Read pins' }).click();
	await expect(points.getByLabel('Readings of')).toHaveValue('port-off');
	await points.getByLabel('Reading of c12, diode mode').fill('412');
	await page.keyboard.press('Enter');
	await points.getByLabel('Reading of tp2, diode mode').fill('388');
	await page.keyboard.press('Enter');
	await expect(row).toContainText('0.412');
	await expect(row).toContainText('good');
	await expect(points.getByText('2 of 2 read')).toBeVisible();
});

test('boards are the manager’s to draw; their pictures are for who works here', async ({ page, browser }) => {
	await enterAs(page, 'ines');
	expect((await page.request.get('/settings/boards')).status()).toBe(403);
	const sent = await page.request.post('/settings/boards/pictures', {
		headers: { origin: new URL(page.url()).origin },
		data: Buffer.from('x')
	});
	expect(sent.status()).toBe(403);
	const stranger = await (await browser.newContext()).newPage();
	const away = await stranger.request.get(new URL(`/boards/${'0'.repeat(64)}`, page.url()).href, {
		maxRedirects: 0
	});
	expect(away.status()).toBe(303);
});
