import type { JointState } from '$lib/core/units/seen-codes';
import type { FaceContact } from './PortFace.svelte';

/** How a joint's state is drawn, wherever joints are looked at or pushed. */
export const JOINT_MARKS: Readonly<Record<JointState, Omit<FaceContact, 'text'>>> = {
	firm: { shape: '●', tone: 'text-agrees' },
	moves: { shape: '▽', tone: 'text-low' },
	cracked: { shape: '△', tone: 'text-high' },
	dry: { shape: '◌', tone: 'text-open', dashed: true },
	bridged: { shape: '▼', tone: 'text-short', filled: true }
};
