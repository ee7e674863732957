import { describe, expect, it } from 'vitest';
import { customerLanguage, LANGUAGES } from './customer-language';

describe('what a customer reads', () => {
	it.each([
		// asked, the shop's locale, language, locale of dates and money
		['de', 'en-GB', 'de', 'de'],
		['de', 'de-AT', 'de', 'de-AT'],
		['en', 'de-DE', 'en', 'en'],
		['en', 'en-GB', 'en', 'en-GB'],
		[undefined, 'de-CH', 'de', 'de-CH'],
		[undefined, 'en-US', 'en', 'en-US'],
		// a language that the program does not speak: the shop's, else English
		['fr', 'de-DE', 'de', 'de-DE'],
		['fr', 'fr-FR', 'en', 'en'],
		['deu', 'fr-FR', 'en', 'en']
	])('asked %s in a shop of %s: %s, dates as %s', (asked, shop, language, locale) =>
		expect(customerLanguage(asked, shop)).toEqual({ language, locale })
	);
	it('English and German', () => expect([...LANGUAGES]).toEqual(['en', 'de']));
});
