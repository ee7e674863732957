/** Nothing that is recorded nests deeper; what does is no record. */
const DEEPEST = 30;

/**
 * What in a value could not be stored as it stands, or would be too deep to look at: a lone surrogate (half a character),
 * NUL and other control characters (but tab and line ends), nesting without end.
 * @returns where and what, or null where all is sound; walks without recursion
 */
export function unsoundIn(value: unknown): { path: string; message: string } | null {
	const queue: { value: unknown; path: string[] }[] = [{ value, path: [] }];
	for (let next = queue.pop(); next !== undefined; next = queue.pop()) {
		const { value, path } = next;
		if (typeof value === 'string') {
			const message = unsoundText(value);
			if (message) return { path: path.join('.'), message };
		} else if (value !== null && typeof value === 'object') {
			if (path.length >= DEEPEST) {
				return {
					path: path.slice(0, 3).join('.'),
					message: `is nested deeper than ${DEEPEST} levels; nothing recorded is`
				};
			}
			for (const [key, item] of Object.entries(value)) {
				const odd = key === '__proto__' ? 'the program keeps for itself; rename it' : unsoundText(key);
				if (odd) return { path: path.join('.'), message: `has a field whose name ${odd}` };
				queue.push({ value: item, path: [...path, key] });
			}
		}
	}
	return null;
}

const [TAB, FEED, BACK, SPACE, QUOTE, BACKSLASH, DELETE] = [9, 10, 13, 32, 34, 92, 127];
const [OPENS, CLOSES] = ['[{', ']}'].map((signs) => [...signs].map((sign) => sign.charCodeAt(0)));

/**
 * True where a text of JSON plainly holds nothing that `unsoundIn` would find, by one look along it: no half characters, no
 * control characters, no escapes that could make one, no field of the program's own, no nesting without end. Most lines are
 * so, and need no walk over what they hold.
 */
export function isPlainJson(text: string): boolean {
	let depth = 0;
	let quoted = false;
	for (let i = 0; i < text.length; i++) {
		const sign = text.charCodeAt(i);
		if (sign < SPACE ? sign !== TAB && sign !== FEED && sign !== BACK : sign === DELETE) return false;
		if (sign >= 0xd800 && sign <= 0xdfff) return false;
		if (sign === BACKSLASH) {
			if (!ESCAPES.includes(text[++i] ?? '')) return false;
		} else if (sign === QUOTE) quoted = !quoted;
		else if (!quoted && OPENS?.includes(sign) && ++depth > DEEPEST) return false;
		else if (!quoted && CLOSES?.includes(sign)) depth--;
	}
	return !text.includes('__proto__');
}
/** Escapes of JSON that make no control character but line ends and tab. */
const ESCAPES = '"\\/nrt';

// eslint-disable-next-line no-control-regex
const CONTROL = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/;

/** What a text holds that cannot be stored as it stands, in words; null where it is sound. */
export function unsoundText(text: string): string | null {
	const control = CONTROL.exec(text);
	if (control) {
		const code = control[0].charCodeAt(0).toString(16).padStart(4, '0');
		return `holds the control character U+${code.toUpperCase()}; take it out`;
	}
	return text.isWellFormed() ? null : 'holds half a character (a lone surrogate); write it anew';
}

/** A value in an error message: what was seen, never the whole of something long. */
export function shownValue(value: unknown): string {
	if (value !== null && typeof value === 'object') return Array.isArray(value) ? 'a list' : 'an object';
	const text = JSON.stringify(value) ?? 'nothing';
	return text.length > 80 ? `${text.slice(0, 77)}…` : text;
}
