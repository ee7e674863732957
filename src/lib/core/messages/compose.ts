import type { CatalogRecordOf } from '../catalog/kinds';
import { PLACEHOLDERS, type Channel, type MessageKind } from '../catalog/kinds-of-returns';

/** What is true of a ticket, as a text says it; null where nothing is. */
export type Facts = Record<(typeof PLACEHOLDERS)[number], string | null>;
export interface Message {
	/** of a mail */
	subject: string | null;
	text: string;
}
type Template = Pick<CatalogRecordOf<'template'>, 'about' | 'channel' | 'language' | 'subject' | 'text'>;

/** What is said where the shop has no words of its own. */
const USUAL: Record<MessageKind, { subject: string; text: string }> = {
	'taken-in': {
		subject: '{device}: taken in as {number}',
		text: 'Dear {name},\nyour {device} has arrived. Your ticket number is {number}.\nIt will be ready by {promised}.\nStatus: {link}\n{shop}'
	},
	quote: {
		subject: '{device}: what the repair costs',
		text: 'Dear {name},\nthe repair of your {device} ({number}) costs {price}.\nAccept or decline here: {link}\n{shop}'
	},
	'waits-for-part': {
		subject: '{device}: waits for a part',
		text: 'Dear {name},\nyour {device} ({number}) is waiting for a part that is on its way.\nIt will be ready by {promised}.\nStatus: {link}\n{shop}'
	},
	ready: {
		subject: '{device}: ready',
		text: 'Dear {name},\nyour {device} ({number}) is ready for pick-up.\nOpening hours: {link}\n{shop}'
	},
	'how-is-it': {
		subject: '{device}: how is it doing?',
		text: 'Dear {name},\nhow is your {device} ({number}) doing? If anything is not right, please tell us.\nUnder warranty until {warranty}.\n{shop}'
	},
	'warranty-ends': {
		subject: '{device}: warranty ends {warranty}',
		text: 'Dear {name},\nthe warranty on the repair of your {device} ({number}) ends {warranty}. If anything is not right, bring it in before then.\n{shop}'
	}
};

/**
 * A message in the customer's words: the shop's template in their language, else its template for everybody, else the program's English
 * one. A line that names something that is not there is left out.
 * @param templates in the order in which the shop has them
 */
export function compose(
	{ about: kind, channel, language }: { about: MessageKind; channel: Channel; language: string | undefined },
	templates: Iterable<Template>,
	facts: Facts
): Message {
	const fitting = [...templates].filter(
		(template) => template.about === kind && template.channel === channel
	);
	const template =
		fitting.find((template) => template.language !== undefined && template.language === language) ??
		fitting.find((template) => template.language === undefined) ??
		USUAL[kind];
	const subject = template.subject ?? USUAL[kind].subject;
	return {
		subject: channel === 'mail' ? filled(subject, facts) : null,
		text: filled(template.text, facts)
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
