// Pictures of the main views from the running demo shop: node scripts/pictures.mjs FOLDER [name ...]
import { mkdirSync } from 'node:fs';
import path from 'node:path';
import process from 'node:process';
import { chromium } from '@playwright/test';

const address = process.env.TAVREK_ADDRESS ?? 'http://127.0.0.1:4600';
const [folder = 'docs/screenshots', ...wanted] = process.argv.slice(2);
mkdirSync(folder, { recursive: true });

const browser = await chromium.launch({
	executablePath: process.env.CHROMIUM_PATH ?? '/usr/bin/chromium',
	args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-sync']
});

async function signedIn(name, size, theme = 'daylight') {
	const context = await browser.newContext({ viewport: size, locale: 'en-GB' });
	await context.addCookies([{ name: 'tavrek_theme', value: theme, url: address }]);
	const page = await context.newPage();
	await page.goto(`${address}/sign-in`);
	await page.getByLabel('Name').fill(name);
	await page.getByLabel('Password').fill('saltmarsh-demo');
	await page.getByRole('button', { name: 'Sign in' }).click();
	await page.waitForURL('**/floor');
	return page;
}

/** An open ticket with pin readings, best one with contacts off their known good; else the first of the floor. */
async function busyTicket(page) {
	await page.goto(`${address}/floor`);
	const numbers = [...new Set(await page.locator('main a.figure').allTextContents())];
	let second = numbers[0];
	for (const number of numbers) {
		await page.goto(`${address}/tickets/${number}`);
		if ((await page.getByText(/Read \d+ contacts/).count()) === 0) continue;
		await page.getByRole('tab', { name: 'Read pins' }).click();
		if ((await page.getByText(/% sure/).count()) > 0) return number;
		second = number;
	}
	return second;
}

/** An invented log: an empty battery, a dropout, a taper. */
function meterLog() {
	const lines = ['Time [s];Voltage [V];Current [mA]'];
	for (let s = 0; s < 9000; s += 2) {
		const wave = 0.004 * Math.sin(s * 7.3) + 0.003 * Math.sin(s * 2.1);
		const charge = s < 5400 ? 1.4 : 1.4 * Math.exp(-(s - 5400) / 1100);
		const amps =
			s < 20 ? 0 : s < 24 ? 0.17 : s < 640 ? 0.06 : s > 2600 && s < 2640 ? 0 : charge < 0.07 ? 0.001 : charge;
		const shown = Math.max(0, amps + wave);
		const decimal = (value, digits) => value.toFixed(digits).replace('.', ',');
		lines.push(`${s};${decimal(5.1 - 0.12 * shown + wave / 3, 3)};${decimal(shown * 1000, 1)}`);
	}
	return lines.join('\r\n');
}

/** A device taken in anew, with its port gone. */
async function openTicket(page, model) {
	const answer = await page.request.post(`${address}/counter/take-in`, {
		headers: { origin: address },
		data: {
			once: crypto.randomUUID(),
			customer: { name: 'Tove Harbinger', kind: 'private' },
			model: { code: model },
			serial: '',
			matters: 'both',
			promisedAt: null,
			signs: { 'no-charge': true, 'port-loose': true },
			comebackOf: null
		}
	});
	return (await answer.json()).number;
}

const desk = { width: 1280, height: 800 };
const views = {
	floor: async () => {
		const page = await signedIn('odile', desk);
		await page.getByText('looking for a better plan').waitFor({ state: 'detached', timeout: 30_000 });
		return page;
	},
	'procedure-run': async () => {
		const page = await signedIn('ines', desk);
		const number = await openTicket(page, 'tern-9');
		await page.goto(`${address}/tickets/${number}/run?procedure=port-hot-air`);
		for (const key of ['Enter', 'Enter', 'Enter', 'Enter', 'Enter', 'Enter', 'Space']) {
			await page.keyboard.press(key);
			await page.waitForTimeout(900);
		}
		await page.waitForTimeout(6000);
		return page;
	},
	returns: async () => {
		const page = await signedIn('odile', desk);
		await page.goto(`${address}/returns?by=lot`);
		return page;
	},
	'own-page': async () => {
		const page = await signedIn('odile', { width: 390, height: 844 });
		const number = await openTicket(page, 'fathom-count');
		await page.goto(`${address}/tickets/${number}`);
		await page.getByRole('button', { name: 'Offer options…' }).click();
		const ticks = page.getByRole('dialog').getByRole('checkbox');
		await ticks.first().waitFor();
		const all = await ticks.count();
		for (let i = 0; i < all; i++) await ticks.nth(i).setChecked(i < 2);
		await page.getByRole('button', { name: 'Offer 2 options' }).click();
		await page.getByRole('radio').first().waitFor();
		await page.goto(`${address}/tickets/${number}/print/receipt`, { waitUntil: 'commit' });
		await page.goto(await page.getByText(/\/mine\//).innerText());
		return page;
	},
	counter: async () => {
		const page = await signedIn('pia', desk);
		await page.goto(`${address}/counter`);
		await page.getByLabel('Customer', { exact: true }).fill('Tove Harbinger');
		await page.getByLabel('Model', { exact: true }).fill('Tern 9');
		await page.waitForTimeout(300);
		await page.keyboard.press('ArrowDown');
		await page.keyboard.press('Enter');
		await page.getByRole('button', { name: /^Promise / }).click();
		await page.waitForTimeout(1500);
		return page;
	},
	'ticket-pins': async () => {
		const page = await signedIn('odile', desk);
		await page.goto(`${address}/tickets/${await busyTicket(page)}`);
		await page.getByRole('tab', { name: 'Read pins' }).click();
		return page;
	},
	'ticket-checks': async () => {
		const page = await signedIn('odile', desk, 'lamp');
		await page.goto(`${address}/tickets/${await busyTicket(page)}`);
		await page.getByRole('tab', { name: 'Check board' }).click();
		return page;
	},
	'ticket-repair': async () => {
		const page = await signedIn('ines', desk);
		await page.goto(`${address}/tickets/${await busyTicket(page)}`);
		await page.getByRole('tab', { name: 'Repair' }).click();
		return page;
	},
	shelf: async () => {
		const page = await signedIn('odile', desk);
		await page.goto(`${address}/shelf?part=donor-cable`);
		return page;
	},
	'ticket-phone': async () => {
		const page = await signedIn('ines', { width: 390, height: 844 });
		await page.goto(`${address}/tickets/${await busyTicket(page)}`);
		await page.getByRole('tab', { name: 'Read pins' }).click();
		return page;
	},
	'counter-tablet': async () => {
		const page = await signedIn('pia', { width: 1024, height: 768 });
		await page.goto(`${address}/counter`);
		return page;
	},
	tickets: async () => {
		const page = await signedIn('odile', desk);
		await page.goto(`${address}/tickets`);
		return page;
	},
	'known-good': async () => {
		const page = await signedIn('odile', desk);
		await page.goto(`${address}/known-good`);
		return page;
	},
	'workbook-log': async () => {
		const page = await signedIn('odile', desk);
		await page.goto(`${address}/workbook?tool=log`);
		await page.locator('input[type=file]').setInputFiles({
			name: 'bench-charge.csv',
			mimeType: 'text/csv',
			buffer: Buffer.from(meterLog())
		});
		await page.getByText('rows read').waitFor();
		await page.waitForTimeout(700);
		return page;
	},
	'workbook-plan': async () => {
		const page = await signedIn('ines', desk);
		await page.goto(`${address}/workbook?tool=plan&model=tern-6&sign=slow-charge`);
		return page;
	},
	practice: async () => {
		const page = await signedIn('odile', desk);
		await page.goto(`${address}/practice`);
		await page.getByText('Forecasts compared').waitFor({ timeout: 60_000 });
		await page.getByText('Predicting each closed ticket').waitFor({ state: 'hidden', timeout: 300_000 });
		return page;
	},
	books: async () => {
		const page = await signedIn('odile', desk);
		await page.goto(`${address}/books`);
		await page.waitForTimeout(700);
		return page;
	},
	board: async () => {
		const page = await signedIn('ines', desk);
		const number = await openTicket(page, 'gannet-c');
		const readings = { 'fuse-out': 0.512, c12a: 0.001, c12b: 0.418, 'cc-1': 0.586, filter: 0.553 };
		const taken = [
			...Object.entries(readings).map(([point, value]) => ({ pin: `point:${point}`, value })),
			{ pin: 'point:c40a', value: 0.001, note: '0.00 at both ends = the charge chip' },
			{ pin: 'point:c40b', value: 0.002 }
		];
		await page.request.post(`${address}/tickets/${number}/change`, {
			headers: { origin: address },
			data: {
				version: 1,
				once: crypto.randomUUID(),
				change: { verb: 'read-pins', mode: 'diode', readings: taken }
			}
		});
		await page.goto(`${address}/tickets/${number}`);
		await page.getByRole('tab', { name: 'Read pins' }).click();
		await page.getByRole('region', { name: 'Points of the board' }).waitFor();
		await page.locator('#board-points').evaluate((heading) => heading.scrollIntoView());
		return page;
	},
	offer: async () => {
		const page = await signedIn('odile', desk);
		await page.goto(`${address}/tickets/${await openTicket(page, 'fathom-count')}`);
		await page.getByRole('button', { name: 'Offer options…' }).click();
		const ticks = page.getByRole('dialog').getByRole('checkbox');
		await ticks.first().waitFor();
		for (let i = 0; i < 3; i++) await ticks.nth(i).setChecked(true);
		await page.getByRole('button', { name: /^Offer \d options$/ }).click();
		await page.getByRole('radio').first().check();
		return page;
	}
};

for (const name of wanted.length > 0 ? wanted : Object.keys(views)) {
	const page = await views[name]();
	await page.waitForTimeout(250);
	await page.screenshot({ path: path.join(folder, `${name}.png`) });
	await page.context().close();
	console.log(name);
}
await browser.close();
