import { describe, expect, it } from 'vitest';
import { blotted } from './blot';

const who = { names: ['Zenobia Quill'], phones: ['0555 90-90 90'], emails: ['zenobia@example.net'] };

describe('what says who somebody is, out of free words', () => {
	it.each([
		['Zenobia Quill dropped it', '… dropped it'],
		['ZENOBIA QUILL, dropped', '…, dropped'],
		['Mrs Quill says it is wet', 'Mrs … says it is wet'],
		['quill pen found in the port', 'quill pen found in the port'],
		['the Quillford model', 'the Quillford model'],
		['call 0555909090 today', 'call … today'],
		['call +0555 / 909-090 today', 'call … today'],
		['reading 05559090901 counts', 'reading 05559090901 counts'],
		['write to Zenobia@Example.net please', 'write to … please'],
		['Quill', '…'],
		['quill', 'quill'],
		['Zenobia Quill', '…'],
		['0555 90-90 90', '…'],
		['nothing of anybody', 'nothing of anybody']
	])('%s', (text, left) => {
		expect(blotted(text, who)).toBe(left);
		expect(blotted({ notes: [{ text, at: 5 }] }, who)).toEqual({ notes: [{ text: left, at: 5 }] });
	});
	it('keys, codes, numbers and what is not there stay; nobody, nothing is taken', () => {
		const record = { quill: 'zenobia-1', volts: 4.2, none: null, list: [true, 'port'] };
		expect(blotted(record, who)).toEqual(record);
		const text = 'Zenobia Quill was here';
		expect(blotted(text, { names: [], phones: ['12'], emails: [''] })).toBe(text);
	});
	it('letters of other alphabets, and signs that mean something in patterns', () => {
		const other = { names: ['Åse Ødegård (jr.)'], phones: [], emails: [] };
		expect(blotted('the box of Åse Ødegård (jr.) is here', other)).toBe('the box of … is here');
		expect(blotted('Ødegård called, Ødegårds dog too', other)).toBe('… called, Ødegårds dog too');
	});
});
