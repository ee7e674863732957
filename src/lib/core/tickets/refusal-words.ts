import { codeEntry, nameWords } from '../units/code';
import type { Refusal } from './refusal';

/** What the screens call the fields that a change of a ticket is refused for. */
export const FIELD_WORDS: Readonly<Record<string, string>> = {
	accepted: 'Answer',
	amountMinor: 'Amount',
	by: 'Paid by',
	cause: 'Cause',
	customer: 'Customer',
	depositMinor: 'Deposit',
	did: 'Step',
	email: 'Email',
	fault: 'First guess',
	faultWords: 'The fault in your own words',
	faults: 'Confirmed faults',
	for: 'Wait',
	gate: 'Final check',
	gates: 'Final checks',
	index: 'Entry',
	lot: 'Lot',
	mode: 'Mode',
	model: 'Model',
	notApplicable: 'Reason',
	of: 'First ticket',
	on: 'Heat',
	operation: 'Operation',
	option: 'Option',
	ownFaults: 'Caused by the repair',
	paidBy: 'Paid by',
	paidMinor: 'Paid',
	part: 'Work done',
	parts: 'Parts',
	passed: 'Final check',
	phone: 'Phone',
	pins: 'Contacts',
	places: 'Screws',
	procedure: 'Procedure',
	promisedAt: 'Promised for',
	quotedMinor: 'Price',
	readings: 'Readings',
	running: 'Timer',
	screws: 'Screws',
	serial: 'Serial number',
	step: 'Step',
	technician: 'Technician',
	until: 'End of the wait',
	validUntil: 'Valid until',
	version: 'Version',
	why: 'Reason'
};

/**
 * A refusal as a person reads it: the field as the screen calls it and what is wrong; what is refused for the ticket as a whole, or for
 * who asks, says it by itself. `readings.0.value` is told as its list.
 */
export function refusalWords({ field, message }: Refusal): string {
	const [list = ''] = field.split('.');
	if (list === 'ticket' || list === 'role') return sentenceCase(message);
	return `${codeEntry(FIELD_WORDS, list) ?? sentenceCase(nameWords(list))}: ${message}`;
}

const sentenceCase = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
