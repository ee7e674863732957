import type { CatalogRecordOf } from '../catalog/kinds';

/** Screws of the demo's devices, in the order in which they come out. */
export const DEMO_SCREWS: NonNullable<CatalogRecordOf<'model'>['screws']> = [
	{ place: 'tray', label: 'Card tray', x: 92, y: 40 },
	{ place: 'foot-left', label: 'Foot, left', length_mm: 3.2, x: 8, y: 92 },
	{ place: 'foot-right', label: 'Foot, right', length_mm: 3.2, x: 88, y: 92 },
	{ place: 'back-top', label: 'Back, top', length_mm: 5, x: 50, y: 8 },
	{ place: 'board-left', label: 'Board, left', length_mm: 2.1, x: 20, y: 45 },
	{ place: 'board-right', label: 'Board, right', length_mm: 2.1, x: 76, y: 45 },
	{ place: 'battery-plug', label: 'Battery plug', x: 48, y: 62 },
	{ place: 'cover', label: 'Insulating cover', x: 50, y: 76 }
];
