// Time from the key that ends a reading to its verdict on the screen, in the browser.
import { chromium } from '@playwright/test';

/** @returns {Promise<number[]>} milliseconds, one a contact */
export async function keyToVerdict(address, number) {
	const browser = await chromium.launch({
		executablePath: process.env.CHROMIUM_PATH ?? '/usr/bin/chromium',
		args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-sync']
	});
	try {
		const page = await browser.newPage();
		await page.goto(`${address}/sign-in`);
		await page.getByLabel('Name').fill('odile');
		await page.getByLabel('Password').fill('saltmarsh-demo');
		await page.keyboard.press('Enter');
		await page.waitForURL('**/floor');
		await page.goto(`${address}/tickets/${number}`);
		await page.getByRole('tab', { name: 'Read pins' }).click();
		const field = page.getByLabel(/^Reading of A1,/);
		await field.focus();
		// the clock starts at the key and stops with the first frame after the contact carries its reading
		await page.evaluate(() => {
			window.times = [];
			addEventListener(
				'keydown',
				(event) => {
					if (event.key !== 'Enter' && event.key !== '*') return;
					const since = performance.now();
					const pin = document.querySelector('[data-pin][aria-pressed=true]');
					const seen = new MutationObserver(() => {
						if (!pin || /not seen yet/.test(pin.getAttribute('aria-label') ?? '')) return;
						seen.disconnect();
						requestAnimationFrame(() => window.times.push(performance.now() - since));
					});
					if (pin) seen.observe(pin, { attributes: true });
				},
				true
			);
		});
		for (const typed of ['1', '*', '*', '470', '730', '610', '612', '520', '471', '*', '*', '1']) {
			await page.keyboard.type(typed);
			if (typed !== '*') await page.keyboard.press('Enter');
			await page.waitForTimeout(60);
		}
		return await page.evaluate(() => window.times);
	} finally {
		await browser.close();
	}
}
