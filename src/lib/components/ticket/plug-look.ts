import type { PlugKind } from '$lib/core/units/seen-codes';

/** A shape and a colour beside the word of each plug-in verdict. */
export const PLUG_LOOK: Record<PlugKind, { shape: string; text: string }> = {
	healthy: { shape: '●', text: 'text-agrees' },
	full: { shape: '●', text: 'text-agrees' },
	precharge: { shape: '◐', text: 'text-agrees' },
	'too-early': { shape: '·', text: 'text-none' },
	slow: { shape: '▽', text: 'text-low' },
	trickle: { shape: '▽', text: 'text-low' },
	sagging: { shape: '▽', text: 'text-low' },
	nothing: { shape: '◌', text: 'text-open' },
	'contract-nothing': { shape: '◌', text: 'text-open' },
	pulsing: { shape: '≈', text: 'text-high' },
	'one-side': { shape: '◑', text: 'text-high' },
	over: { shape: '△', text: 'text-short' }
};
