import { expect } from '@playwright/test';
import { awake, enterAs, takeIn, test } from './shop';

test('two people on one ticket: the stale save is refused with what changed, and kept', async ({
	browser
}) => {
	const [first, second] = [
		await (await browser.newContext()).newPage(),
		await (await browser.newContext()).newPage()
	];
	await enterAs(first, 'ines');
	await enterAs(second, 'pia');
	const number = await takeIn(first);
	await first.goto(`/tickets/${number}`);
	await second.goto(`/tickets/${number}`);
	await awake(first);
	await awake(second);
	await first.getByLabel('Note', { exact: true }).fill('cleaned the case');
	await first.keyboard.press('Enter');
	await expect(first.getByText('cleaned the case')).toBeVisible();
	await second.getByLabel('Note', { exact: true }).fill('customer called');
	await second.keyboard.press('Enter');
	await expect(
		second.getByText('Someone else changed this ticket while you were working on it.')
	).toBeVisible();
	await expect(second.getByText(/Ines: note/)).toBeVisible();
	await expect(second.getByText('cleaned the case')).toBeVisible();
	await second.getByRole('button', { name: 'Apply mine on top' }).click();
	await expect(second.getByRole('listitem').filter({ hasText: 'customer called' })).toBeVisible();
	// shown at once; the other page can only know it when the server does
	await expect(second.getByText('not saved yet')).toHaveCount(0);
	await expect(second.getByRole('listitem').filter({ hasText: 'customer called' })).toBeVisible();
	await first.reload();
	await expect(first.getByText('customer called')).toBeVisible();
});

test('a timer survives a reload, and a hand-over moves the tag on the floor', async ({ page }) => {
	await enterAs(page, 'noor');
	const number = await takeIn(page);
	await page.goto(`/tickets/${number}`);
	await page.getByRole('tab', { name: 'Repair' }).click();
	await page.getByLabel('Operation', { exact: true }).selectOption('clean-port');
	await page.getByRole('button', { name: 'Start timer' }).click();
	await expect(page.getByText(/^0:00:0/)).toBeVisible();
	await page.reload();
	await page.getByRole('tab', { name: 'Repair' }).click();
	await expect(page.getByText(/^0:0\d:\d\d/)).toBeVisible();
	await page.getByRole('button', { name: 'Stop: fixed it' }).click();
	await expect(page.getByText(/Clean the port: fixed it/)).toBeVisible();
	await page.keyboard.press('Escape');
	await page.getByRole('button', { name: 'Pass on' }).click();
	await page.getByLabel('To', { exact: true }).selectOption('bram');
	await page.getByRole('dialog').getByRole('button', { name: 'Pass on' }).click();
	await expect(page.getByText(/with Bram/)).toBeVisible();
	await page.goto('/floor');
	await expect(page.getByRole('row').filter({ hasText: number })).toContainText('Bram');
	await page.getByRole('button', { name: `Pass on ${number}` }).click();
	await page.getByLabel('Waits for').selectOption('part');
	await page.getByRole('dialog').getByRole('button', { name: 'Pass on' }).click();
	await expect(page.getByText('waits for part').first()).toBeVisible();
});

test('the field at the top jumps to a typed or scanned number, and the sheets print', async ({ page }) => {
	await enterAs(page, 'pia');
	await page.keyboard.press('j');
	await page.keyboard.type('7');
	await page.keyboard.press('Enter');
	await page.waitForURL('**/tickets/K-00007');
	await page.keyboard.press('j');
	await page.keyboard.type('K-99999');
	await page.keyboard.press('Enter');
	await expect(page.getByText('There is no ticket K-99999')).toBeVisible();
	await page.addInitScript(() => (window.print = () => undefined));
	for (const [what, title] of [
		['sheet', 'Job sheet'],
		['receipt', 'Drop-off slip'],
		['quote', 'Quote']
	]) {
		await page.goto(`/tickets/K-00007/print/${what}`);
		await expect(page.getByRole('heading', { name: `${title} K-00007` })).toBeVisible();
		await expect(page.getByAltText('Scannable code of K-00007')).toBeVisible();
	}
	await page.goto('/tickets/K-00007/print/label');
	const code = page.getByAltText('Scannable code of K-00007');
	expect(await code.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBeGreaterThan(50);
});
