import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import { enterAs, takeIn, test } from './shop';

const SCREENS = [
	'/floor',
	'/counter',
	'/tickets',
	'/known-good',
	'/known-good?model=murmur-case',
	'/known-good?model=pelagic-40&meter=handheld',
	'/workbook',
	'/workbook?tool=others',
	'/workbook?tool=log',
	'/plan?model=pelagic-40&sign=no-charge',
	'/workbook?tool=jumper',
	'/workbook?tool=charge',
	'/workbook?tool=pack',
	'/workbook?tool=heat',
	'/workbook?tool=supply',
	'/settings/catalog?kind=connector',
	'/settings/catalog?kind=model',
	'/settings/boards?model=gannet-c',
	'/shelf?part=donor-cable',
	'/books',
	'/returns?by=lot',
	'/returns?by=operation&row=replace-port',
	'/returns/claims',
	'/returns/calls',
	'/customers',
	'/customers/1',
	'/messages',
	'/practice',
	'/settings',
	'/settings/catalog?kind=operation',
	'/settings/people',
	'/settings/audit',
	'/tickets/K-00010',
	'/tickets/K-00010/print/sheet'
];

/** Opens the shop; what the page's console complains of is gathered. */
async function openShop(page: Page) {
	const errors: string[] = [];
	page.on('pageerror', (error) => errors.push(String(error)));
	page.on('console', (message) => {
		if (message.type() === 'error') errors.push(message.text());
	});
	await page.addInitScript(() => (window.print = () => undefined));
	await page.goto('/sign-in');
	const wear = (theme: string) =>
		page.evaluate((theme) => (document.documentElement.dataset.theme = theme), theme);
	const faultsOf = async (checks: AxeBuilder, where: string) =>
		(await checks.analyze()).violations.map(
			({ id, nodes }) =>
				`${where} ${id}: ${nodes
					.map(({ target }) => target.join(' '))
					.slice(0, 3)
					.join(' | ')}`
		);
	/** All rules in daylight; a theme is colours, so in lamplight those alone. */
	const check = async (where: string) => {
		expect(await faultsOf(new AxeBuilder({ page }), where)).toEqual([]);
		await wear('lamp');
		const colours = new AxeBuilder({ page }).withRules(['color-contrast']);
		expect(await faultsOf(colours, `${where} in lamplight`)).toEqual([]);
		await wear('daylight');
	};
	return { errors, check };
}

test('every screen passes the accessibility checks in both themes', async ({ page }) => {
	const { errors, check } = await openShop(page);
	await check('/sign-in');
	await enterAs(page, 'odile');
	for (const screen of SCREENS) {
		await page.goto(screen);
		await page.waitForLoadState('networkidle');
		// the first time in the shop's life this is worked out behind the page
		if (screen === '/practice') await page.getByText('Forecasts compared').waitFor({ timeout: 200_000 });
		await check(screen);
	}
	expect(errors).toEqual([]);
});

test('every step of a ticket passes the accessibility checks in both themes', async ({ page }) => {
	const { errors, check } = await openShop(page);
	await enterAs(page, 'odile');
	const number = await takeIn(page, { model: { code: 'gannet-c' } });
	await page.goto(`/tickets/${number}`);
	for (const step of ['Look', 'Plug in', 'Read pins', 'Check board', 'Repair', 'Prove', 'Close']) {
		await page.getByRole('tab', { name: step }).click();
		await check(`step ${step}`);
	}
	await page.getByRole('button', { name: 'Pass on' }).click();
	await check('pass on');
	expect(errors).toEqual([]);
});

test('what is typed before the page has woken up stays', async ({ page }) => {
	let wake = () => undefined as void;
	const asleep = new Promise<void>((resolve) => (wake = resolve));
	await page.route('**/_app/**/*.js', async (route) => {
		await asleep;
		await route.continue();
	});
	await page.goto('/sign-in', { waitUntil: 'commit' });
	await page.getByLabel('Name').fill('odile');
	await page.getByLabel('Password').fill('saltmarsh-demo');
	await expect(page.locator('#svelte-announcer')).not.toBeAttached();
	wake();
	// the framework's announcer for screen readers is there once the page has woken up, and not before
	await expect(page.locator('#svelte-announcer')).toBeAttached();
	await expect(page.getByLabel('Name')).toHaveValue('odile');
	await page.keyboard.press('Enter');
	await page.waitForURL('**/floor');
});

test('roles: pages, actions and payloads are checked on the server', async ({ page, baseURL }) => {
	await enterAs(page, 'ines');
	for (const path of [
		'/books',
		'/settings',
		'/settings/people',
		'/settings/export',
		'/settings/audit',
		'/settings/catalog'
	]) {
		expect((await page.goto(path))?.status(), path).toBe(403);
	}
	for (const action of [
		'/settings?/shop',
		'/settings?/import',
		'/settings/people?/add',
		'/settings/people?/token',
		'/settings/catalog?/save'
	]) {
		const answer = await page.request.post(action, {
			form: { name: 'x' },
			headers: { origin: baseURL as string, accept: 'application/json' }
		});
		expect(await answer.json(), action).toMatchObject({
			type: 'error',
			error: { message: expect.stringContaining('for the manager') }
		});
	}
	for (const path of ['/tickets/K-00010', '/practice']) {
		const html = await (await page.goto(path))?.text();
		for (const word of ['floorMinor', 'hourlyCostMinor', 'unitCostMinor', 'costMinor', 'planMinor']) {
			expect(html, path).not.toContain(word);
		}
	}
	await page.context().clearCookies();
	await enterAs(page, 'pia');
	expect((await page.goto('/practice'))?.status()).toBe(403);
});

test('doors: no session, foreign origin, security headers, cookies', async ({ page, request, baseURL }) => {
	const away = await request.get('/floor', { maxRedirects: 0 });
	expect(away.status()).toBe(303);
	expect(away.headers().location).toBe('/sign-in?to=%2Ffloor');
	const foreign = await request.post('/sign-in', {
		form: { signIn: 'odile', password: 'x' },
		headers: { origin: 'https://elsewhere.example' }
	});
	expect(foreign.status()).toBe(403);
	const change = await request.post('/tickets/K-00010/change', {
		data: {},
		headers: { origin: baseURL as string }
	});
	expect(change.status()).toBe(401);
	await enterAs(page, 'pia');
	const cookie = (await page.context().cookies()).find(({ name }) => name.startsWith('tavrek_session'));
	expect(cookie).toMatchObject({ httpOnly: true, sameSite: 'Lax' });
	const headers = (await page.goto('/floor'))?.headers() ?? {};
	const scripts = /script-src ([^;]+)/.exec(headers['content-security-policy'] ?? '')?.[1] ?? '';
	expect(scripts).toContain("'self'");
	expect(scripts).not.toContain('unsafe-inline');
	expect(headers['x-content-type-options']).toBe('nosniff');
	await page.request.post('/sign-out', { form: {}, headers: { origin: baseURL as string } });
	await page.goto('/floor');
	expect(page.url()).toContain('/sign-in');
});
