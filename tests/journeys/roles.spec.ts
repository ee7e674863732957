import { expect } from '@playwright/test';
import { enterAs, takeIn, test } from './shop';

const address = () => process.env.TAVREK_ADDRESS ?? '';

test('the counter can neither reopen nor close as fixed, a technician gets no price by wages', async ({
	page,
	browser,
	request
}) => {
	await enterAs(page, 'pia');
	const number = await takeIn(page);
	const change = (what: object) =>
		page.request.post(`/tickets/${number}/change`, {
			headers: { origin: address() },
			data: { version: 1, once: crypto.randomUUID(), change: what }
		});
	for (const what of [
		{ verb: 'close', outcome: 'fixed', faults: ['input-fuse'], paidMinor: 0 },
		{ verb: 'close', outcome: 'not-fixed', faults: ['input-fuse'], paidMinor: 0 },
		{ verb: 'reopen' },
		{ verb: 'gate', gate: 'functions', passed: true },
		{ verb: 'attempt', operation: 'replace-port', technician: 'ines', minutes: 1, resolved: true }
	]) {
		expect((await change(what)).status(), JSON.stringify(what)).toBe(403);
	}
	expect((await change({ verb: 'close', outcome: 'declined', faults: [], paidMinor: 0 })).status()).toBe(200);
	const desk = await (await browser.newContext()).newPage();
	await enterAs(desk, 'odile');
	await desk.goto('/settings/people');
	await desk.getByLabel('Purpose').fill('wages');
	await desk.getByRole('button', { name: 'Make token' }).click();
	const token = await desk.getByRole('status').locator('strong').textContent();
	const technician = { authorization: `Bearer ${token}` };
	const asked = await request.post('/api/v1/quote', {
		headers: technician,
		data: { model: 'tern-6', technician: 'ines' }
	});
	expect(asked.status()).toBe(422);
	const plain = await (
		await request.post('/api/v1/quote', { headers: technician, data: { model: 'tern-6' } })
	).text();
	for (const word of ['floor', 'cost', 'expected_profit', 'chance_of_loss'])
		expect(plain).not.toContain(`"${word}"`);
});

test('a one-time password opens once, and a new one comes first', async ({ page, browser }) => {
	await enterAs(page, 'odile');
	await page.goto('/settings/people');
	const name = `temp${Date.now() % 100_000}`;
	await page.getByLabel('Name', { exact: true }).fill('Temp');
	await page.getByLabel('Signs in as').fill(name);
	await page.getByLabel(/First password/).fill('password1234');
	await page.getByRole('button', { name: 'Add', exact: true }).click();
	await expect(page.getByText(/one of the commonest/)).toBeVisible();
	await page.getByLabel(/First password/).fill('herring gull roof');
	await page.getByRole('button', { name: 'Add', exact: true }).click();
	await expect(page.getByText('Temp can sign in')).toBeVisible();
	await page
		.getByRole('row', { name: new RegExp(name) })
		.getByRole('button', { name: /one-time/ })
		.click();
	const once = (await page.getByRole('status').locator('strong').first().textContent()) ?? '';
	const other = await (await browser.newContext()).newPage();
	await other.goto('/sign-in');
	await other.getByLabel('Name').fill(name);
	await other.getByLabel('Password').fill(once);
	await other.keyboard.press('Enter');
	await other.waitForURL('**/account');
	await other.goto('/floor');
	expect(other.url()).toContain('/account');
	await other.getByLabel('Current password').fill(once);
	await other.getByLabel('New password, at least').fill('kelp and copper');
	await other.getByLabel('Repeat the new password').fill('kelp and copper');
	await other.getByRole('button', { name: 'Change password' }).click();
	await other.waitForURL('**/floor');
});
