import type { Verdict } from '$lib/core/readings/verdict';

/** Each verdict has a word, a shape and a colour: never a colour alone. */
export const VERDICT_LOOK: Record<Verdict, { word: string; shape: string; text: string }> = {
	agrees: { word: 'agrees', shape: '●', text: 'text-agrees' },
	short: { word: 'short', shape: '▼', text: 'text-short' },
	open: { word: 'open', shape: '◌', text: 'text-open' },
	low: { word: 'low', shape: '▽', text: 'text-low' },
	high: { word: 'high', shape: '△', text: 'text-high' },
	'no-reference': { word: 'no reference', shape: '·', text: 'text-none' }
};
