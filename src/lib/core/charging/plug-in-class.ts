/**
 * Simple classes of what an inline meter showed and what a battery read, as evidence.
 * Bounds are common practice in the trade, no source; a low current is judged with the battery's
 * voltage only by the odds, which learn what each class went with in this shop.
 */
export const DRAW_CLASSES = ['nothing', 'trickle', 'slow', 'normal'] as const;
export type DrawClass = (typeof DRAW_CLASSES)[number];

/** Amperes to a class: under 10 mA nothing, under 0.15 A trickle (precharge), under 60 % of healthy slow. */
export function classifyDraw(amps: number, healthyAmps: number): DrawClass {
	const drawn = Math.abs(amps);
	if (drawn < 0.01) return 'nothing';
	if (drawn < 0.15) return 'trickle';
	return drawn < 0.6 * healthyAmps ? 'slow' : 'normal';
}

export const DRAW_WORDS: Record<DrawClass, string> = {
	nothing: 'nothing drawn',
	trickle: 'a trickle: precharge or nearly nothing',
	slow: 'slow charge',
	normal: 'normal draw'
};

/** What a device draws where its model does not say: common practice for a small handheld, no source. */
export const USUAL_HEALTHY_AMPS = 0.5;

export const BATTERY_CLASSES = ['none', 'flat', 'low', 'fair'] as const;
export type BatteryClass = (typeof BATTERY_CLASSES)[number];

/**
 * Volts per cell to a class: under 0.5 V cut off or not connected, under 3.0 V flat (precharge),
 * under 3.6 V low, else fair. Common practice, no source.
 */
export function classifyBattery(volts: number, cells: number): BatteryClass {
	const perCell = volts / Math.max(1, cells);
	if (perCell < 0.5) return 'none';
	if (perCell < 3.0) return 'flat';
	return perCell < 3.6 ? 'low' : 'fair';
}

export const BATTERY_WORDS: Record<BatteryClass, string> = {
	none: 'reads nothing: cut off or not connected',
	flat: 'flat: precharge is normal',
	low: 'low',
	fair: 'charged'
};

/** A cell below this is not charged in a shop without its maker's word. Common practice, no source. */
export const UNSAFE_CELL_VOLTS = 1.5;
