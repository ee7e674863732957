import type { PhaseKind } from '$lib/core/charging/trace-phases';

/** A shape and a colour for each phase; the word stands beside them. */
export const PHASE_LOOK: Record<PhaseKind, { shape: string; colour: string }> = {
	idle: { shape: '·', colour: '--none' },
	handshake: { shape: '╌', colour: '--open' },
	precharge: { shape: '◐', colour: '--low' },
	'constant-current': { shape: '▬', colour: '--agrees' },
	'constant-voltage': { shape: '◣', colour: '--bar' },
	done: { shape: '●', colour: '--ink-soft' },
	pulsing: { shape: '≈', colour: '--high' },
	dropout: { shape: '▼', colour: '--short' },
	steady: { shape: '─', colour: '--copper' }
};
