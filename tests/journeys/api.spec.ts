import { expect, test } from '@playwright/test';
import { enterAs } from './shop';

const manager = { authorization: 'Bearer journeys-token' };
const evidence = {
	model: 'tern-6',
	signs: { 'no-charge': true },
	observations: [{ test: 'vbus-fuse', outcome: 'open' }],
	meter: [{ stage: 'intake', orientation: 'a', volts: 5.08, amps: 0, seconds: 20 }]
};

test('odds and quote answer as the exchange design says', async ({ request }) => {
	const odds = await (await request.post('/api/v1/odds', { headers: manager, data: evidence })).json();
	expect(odds.learned_from).toBeGreaterThan(1000);
	expect(odds.faults[0]).toMatchObject({ code: 'input-fuse' });
	expect(odds.faults[0].reasons[0]).toMatchObject({ evidence: 'vbus-fuse=open' });
	expect(odds.faults).toHaveLength(13);
	expect(odds.next[0].expected_cost).toBeGreaterThan(0);
	const before = await (
		await request.post('/api/v1/odds', {
			headers: manager,
			data: { ...evidence, as_of: '2000-01-01T00:00:00Z' }
		})
	).json();
	expect(before.learned_from).toBe(0);
	const quote = await (
		await request.post('/api/v1/quote', {
			headers: manager,
			data: { ...evidence, faults: ['input-fuse'], price: 60 }
		})
	).json();
	expect(quote).toMatchObject({ price: 60, ceiling: 120, verdict: 'quote' });
	expect(quote.minutes.p10).toBeLessThan(quote.minutes.p50);
	expect(quote.cost.p50).toBeLessThan(quote.cost.p90);
});

test('problems name the field, the value and the way out', async ({ request }) => {
	const post = (path: string, data: unknown, headers = manager) =>
		request.post(path, { headers, data: data as object });
	const none = await request.post('/api/v1/odds', { data: evidence });
	expect(none.status()).toBe(401);
	expect(none.headers()['content-type']).toContain('application/problem+json');
	const unknown = await post('/api/v1/odds', { ...evidence, colour: 'red' });
	expect(unknown.status()).toBe(422);
	expect((await unknown.json()).errors[0]).toMatchObject({ path: 'colour' });
	const sign = await post('/api/v1/odds', { model: 'tern-6', signs: { nope: true } });
	expect((await sign.json()).errors[0]).toMatchObject({ path: 'signs.nope' });
	const refused = await request.post('/api/v1/import', {
		headers: manager,
		data: '{"record":"fault"}\nnonsense'
	});
	expect(refused.status()).toBe(422);
	expect((await refused.json()).errors.map(({ line }: { line: number }) => line)).toEqual([1, 1, 2]);
	const missing = await request.get('/api/v1/tickets/K-99999', { headers: manager });
	expect(missing.status()).toBe(404);
});

test('export streams everything; the same file again changes nothing', async ({ request }) => {
	const first = await (await request.get('/api/v1/export', { headers: manager })).text();
	expect(first.startsWith('{"record":"shop"')).toBe(true);
	const imported = await request.post('/api/v1/import', {
		headers: { ...manager, 'content-type': 'application/x-ndjson' },
		data: first
	});
	expect((await imported.json()).accepted.ticket).toBeGreaterThanOrEqual(1400);
	expect((await (await request.get('/api/v1/export', { headers: manager })).text()) === first).toBe(true);
	const ticket = await (await request.get('/api/v1/tickets/K-00010', { headers: manager })).json();
	expect(first).toContain(JSON.stringify(ticket));
});

test('a token made in Settings carries its role; costs stay with the manager', async ({ page, request }) => {
	await enterAs(page, 'odile');
	await page.goto('/settings/people');
	await page.getByLabel('For what').fill('bench tablet');
	await page.getByRole('combobox', { name: 'Role' }).last().selectOption('technician');
	await page.getByRole('button', { name: 'Make token' }).click();
	const token = await page.getByRole('status').locator('strong').textContent();
	const headers = { authorization: `Bearer ${token}` };
	const odds = await (await request.post('/api/v1/odds', { headers, data: evidence })).json();
	expect(odds.next[0].expected_minutes).toBeGreaterThan(0);
	expect(JSON.stringify(odds)).not.toContain('expected_cost');
	const quote = await (await request.post('/api/v1/quote', { headers, data: evidence })).json();
	for (const word of ['cost', 'floor', 'expected_profit', 'chance_of_loss'])
		expect(quote).not.toHaveProperty(word);
	expect(
		JSON.stringify(await (await request.get('/api/v1/tickets/K-00010', { headers })).json())
	).not.toContain('unit_cost');
	expect((await request.get('/api/v1/export', { headers })).status()).toBe(403);
	expect((await request.post('/api/v1/import', { headers, data: '' })).status()).toBe(403);
	await page.getByRole('button', { name: 'revoke bench tablet' }).click();
	await expect(page.getByText('revoked')).toBeVisible();
	expect((await request.post('/api/v1/odds', { headers, data: evidence })).status()).toBe(401);
});

test('the API describes itself as OpenAPI 3.1', async ({ request }) => {
	const api = await (await request.get('/api/v1/openapi.json')).json();
	expect(api.openapi).toBe('3.1.0');
	expect(Object.keys(api.paths)).toEqual([
		'/api/v1/import',
		'/api/v1/export',
		'/api/v1/tickets/{number}',
		'/api/v1/odds',
		'/api/v1/quote'
	]);
	expect(api.components.schemas['record-ticket'].properties.number.pattern).toBeTruthy();
});
