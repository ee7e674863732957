import { afterEach, describe, expect, it, vi } from 'vitest';
import { isForView, keyToAction, type KeyPress } from './key-to-action';

const KEYS = { j: 'find', Enter: 'next' } as const;
const plain = { ctrlKey: false, metaKey: false, altKey: false };
const press = (key: string, more: Partial<KeyPress> = {}): KeyPress => ({
	...plain,
	key,
	target: { tagName: 'BODY', isContentEditable: false } as unknown as EventTarget,
	...more
});
const page = (dialog: boolean) => vi.stubGlobal('document', { querySelector: () => (dialog ? {} : null) });
afterEach(() => vi.unstubAllGlobals());

describe('a single key', () => {
	it.each<[string, KeyPress, 'find' | 'next' | null]>([
		['in the table', press('j'), 'find'],
		['of another name', press('k'), null],
		['that every object has', press('constructor'), null],
		['in capitals', press('J'), null],
		['with Ctrl', press('j', { ctrlKey: true }), null],
		['with Meta', press('j', { metaKey: true }), null],
		['with Alt', press('j', { altKey: true }), null],
		...(['INPUT', 'TEXTAREA', 'SELECT'] as const).map((tagName): [string, KeyPress, null] => [
			`in a ${tagName}`,
			press('j', { target: { tagName } as unknown as EventTarget }),
			null
		]),
		[
			'in a text that can be edited',
			press('j', { target: { tagName: 'DIV', isContentEditable: true } as unknown as EventTarget }),
			null
		],
		['on a button', press('Enter', { target: { tagName: 'BUTTON' } as unknown as EventTarget }), 'next'],
		['with nothing behind it', press('Enter', { target: null }), 'next']
	])('%s', (_, event, action) => {
		page(false);
		expect(keyToAction(KEYS, event)).toBe(action);
	});
	it('is not for a view with a dialog over it, but for one that is the dialog', () => {
		page(true);
		expect(keyToAction(KEYS, press('j'))).toBeNull();
		expect(keyToAction(KEYS, press('j'), { overDialogs: true })).toBe('find');
		expect(isForView(press('x', { ctrlKey: true }), { overDialogs: true })).toBe(false);
	});
});
