import { baseLocale, locales } from './compiled/runtime.js';

/** A language in which the program speaks to customers: one file of `messages` each. */
export type Language = (typeof locales)[number];
export const LANGUAGES: readonly Language[] = locales;

/** The language of a tag: "de-AT" speaks "de"; undefined where the program does not speak it. */
const languageOf = (tag: string | undefined): Language | undefined => {
	const [primary] = (tag ?? '').toLowerCase().split('-');
	return LANGUAGES.find((language) => language === primary);
};

/**
 * What a customer reads: their language where the program speaks it, else the shop's, else English; and the locale for dates and money,
 * which is the shop's where that is of the same language.
 * @param asked a customer's language, two or three letters
 * @param shopLocale a language tag such as en-GB
 */
export function customerLanguage(
	asked: string | undefined,
	shopLocale: string
): { language: Language; locale: string } {
	const language = languageOf(asked) ?? languageOf(shopLocale) ?? baseLocale;
	return { language, locale: languageOf(shopLocale) === language ? shopLocale : language };
}
