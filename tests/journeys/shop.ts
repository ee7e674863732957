import { test as plain, expect, type Locator, type Page, type Response } from '@playwright/test';

export const PASSWORD = 'saltmarsh-demo';

/** A page hears keys and clicks once the framework's announcer for screen readers is there, and not before. */
export const awake = (page: Page) =>
	page.locator('#svelte-announcer').waitFor({ state: 'attached', timeout: 60_000 });

/** A page that was gone to, or came anew, hears what is pressed on it. Who looks at one before that says so (`waitUntil`). */
export const test = plain.extend({
	page: async ({ page }, use) => {
		const heard = async (answer: Response | null, early: boolean) => {
			const screen = answer?.status() === 200 && answer.headers()['content-type']?.includes('text/html');
			if (screen && !early) await awake(page);
			return answer;
		};
		const [goto, reload] = [page.goto.bind(page), page.reload.bind(page)];
		page.goto = async (url, options) => heard(await goto(url, options), options?.waitUntil !== undefined);
		page.reload = async (options) => heard(await reload(options), options?.waitUntil !== undefined);
		await use(page);
	}
});

export async function enterAs(page: Page, name: string): Promise<void> {
	await page.goto('/sign-in');
	await page.getByLabel('Name').fill(name);
	await page.getByLabel('Password').fill(PASSWORD);
	await page.keyboard.press('Enter');
	await page.waitForURL('**/floor');
	await awake(page);
}

/** Walks with Tab until an element has the focus: what cannot be reached so, cannot be reached by keyboard. */
export async function tabTo(page: Page, target: Locator, most = 120): Promise<void> {
	for (let presses = 0; presses < most; presses++) {
		if (await target.evaluate((element) => element === document.activeElement)) return;
		await page.keyboard.press('Tab');
	}
	throw new Error(`not reached with ${most} tabs: ${target}`);
}

/** Takes a device in by the API of the screens; answers with its number. */
export async function takeIn(page: Page, more: Record<string, unknown> = {}): Promise<string> {
	const answer = await page.request.post('/counter/take-in', {
		headers: { origin: new URL(page.url()).origin },
		data: {
			once: crypto.randomUUID(),
			customer: { name: 'Journey Tester', kind: 'private' },
			model: { code: 'tern-6' },
			serial: '',
			matters: 'device',
			promisedAt: null,
			signs: {},
			comebackOf: null,
			...more
		}
	});
	expect(answer.status()).toBe(200);
	return ((await answer.json()) as { number: string }).number;
}
