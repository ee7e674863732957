import type { Instant } from './instant';
import { fromMinor, type Minor } from './money';

export interface ShopSettings {
	name: string;
	currency: string;
	timeZone: string;
	locale: string;
}

const formats = new Map<string, ShopFormat>();
/** One server may answer for few shops; a bound all the same. */
const MOST_FORMATS = 50;

/**
 * How a shop writes money and time: its currency, zone and locale; a clock of 12 or 24 hours as the locale has it. Made once: each makes
 * six formats, some half a millisecond, and every component of a page asks for one.
 */
export function shopFormat({ currency, timeZone, locale }: Omit<ShopSettings, 'name'>): ShopFormat {
	const key = [currency, timeZone, locale].join('\n');
	const cached = formats.get(key);
	if (cached) return cached;
	const made = makeFormat({ currency, timeZone, locale });
	if (formats.size >= MOST_FORMATS) formats.clear();
	formats.set(key, made);
	return made;
}

function makeFormat({ currency, timeZone, locale }: Omit<ShopSettings, 'name'>) {
	const moneyFormat = new Intl.NumberFormat(locale, { style: 'currency', currency });
	const plain = new Intl.NumberFormat(locale, {
		minimumFractionDigits: moneyFormat.resolvedOptions().minimumFractionDigits ?? 2,
		maximumFractionDigits: moneyFormat.resolvedOptions().maximumFractionDigits ?? 2
	});
	const dated = (options: Intl.DateTimeFormatOptions) =>
		new Intl.DateTimeFormat(locale, { timeZone, ...options });
	const time = dated({ hour: 'numeric', minute: '2-digit' });
	const day = dated({ weekday: 'short', day: 'numeric', month: 'short' });
	const weekday = dated({ weekday: 'short' });
	const date = dated({ day: 'numeric', month: 'short', year: 'numeric' });
	const dayKey = new Intl.DateTimeFormat('en-CA', { timeZone });
	return {
		/** with the currency's sign: for totals and prices that stand alone */
		money: (minor: Minor) => moneyFormat.format(fromMinor(Math.round(minor))),
		/** without the sign: for columns and rulers */
		amount: (minor: Minor) => plain.format(fromMinor(Math.round(minor))),
		time: (at: Instant) => time.format(at),
		day: (at: Instant) => day.format(at),
		date: (at: Instant) => date.format(at),
		weekdayTime: (at: Instant) => `${weekday.format(at)} ${time.format(at)}`,
		moment: (at: Instant) => `${day.format(at)} ${time.format(at)}`,
		/** "2026-03-02" in the shop's zone: equal for moments of one day */
		dayKey: (at: Instant) => dayKey.format(at)
	};
}

export type ShopFormat = ReturnType<typeof makeFormat>;
