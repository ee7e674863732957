import type { CatalogRecordOf } from '../catalog/kinds';
import { PLACEHOLDERS, type Channel, type MessageKind } from '../catalog/kinds-of-returns';
import * as words from '../words/compiled/messages.js';
import type { Language } from '../words/customer-language';

/** What is true of a ticket, as a text says it; null where nothing is. */
export type Facts = Record<(typeof PLACEHOLDERS)[number], string | null>;
export interface Message {
	/** of a mail */
	subject: string | null;
	text: string;
}
type Template = Pick<CatalogRecordOf<'template'>, 'about' | 'channel' | 'language' | 'subject' | 'text'>;

/** Placeholders stand for themselves: they are filled in line by line, below. */
const PLACES = Object.fromEntries(PLACEHOLDERS.map((name) => [name, `{${name}}`])) as Record<
	(typeof PLACEHOLDERS)[number],
	string
>;
type Text = (inputs: typeof PLACES, options: { locale: Language }) => string;

/** What is said where the shop has no words of its own. */
const USUAL: Record<MessageKind, { subject: Text; text: Text }> = {
	'taken-in': { subject: words.mail_taken_in_subject, text: words.mail_taken_in },
	quote: { subject: words.mail_quote_subject, text: words.mail_quote },
	'waits-for-part': { subject: words.mail_waits_subject, text: words.mail_waits },
	ready: { subject: words.mail_ready_subject, text: words.mail_ready },
	'how-is-it': { subject: words.mail_how_is_it_subject, text: words.mail_how_is_it },
	'warranty-ends': { subject: words.mail_warranty_subject, text: words.mail_warranty }
};

/**
 * A message in the customer's words: the shop's template in their language, else its template for everybody, else the program's own in
 * the language that they read. A line that names something that is not there is left out.
 * @param templates in the order in which the shop has them
 * @param reads what the customer reads of the program's own words
 */
export function compose(
	{ about: kind, channel, language }: { about: MessageKind; channel: Channel; language: string | undefined },
	templates: Iterable<Template>,
	facts: Facts,
	reads: Language
): Message {
	const fitting = [...templates].filter(
		(template) => template.about === kind && template.channel === channel
	);
	const template =
		fitting.find((template) => template.language !== undefined && template.language === language) ??
		fitting.find((template) => template.language === undefined);
	const usual = (part: 'subject' | 'text') => USUAL[kind][part](PLACES, { locale: reads });
	const subject = template?.subject ?? usual('subject');
	return {
		subject: channel === 'mail' ? filled(subject, facts) : null,
		text: filled(template?.text ?? usual('text'), facts)
	};
}

function filled(text: string, facts: Facts): string {
	const lines = text.split('\n').flatMap((line) => {
		const names = [...line.matchAll(/\{([^{}]+)\}/g)].map(([, name]) => name as keyof Facts);
		if (names.some((name) => name in facts && facts[name] === null)) return [];
		return [line.replace(/\{([^{}]+)\}/g, (whole, name: keyof Facts) => facts[name] ?? whole)];
	});
	// a value never opens a line of its own: nothing can be put into a mail's head
	return lines.join('\n').trim();
}
