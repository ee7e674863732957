import { describe, expect, it } from 'vitest';
import { classifyBattery, classifyDraw } from './plug-in-class';

describe('plug-in classes', () => {
	it.each([
		[0, 'nothing'],
		[0.009, 'nothing'],
		[0.06, 'trickle'],
		[0.2, 'slow'],
		[0.45, 'normal'],
		[-0.45, 'normal']
	])('%d A on a device that draws 0.5 A is %s', (amps, drawn) => expect(classifyDraw(amps, 0.5)).toBe(drawn));
	it('judges slow by what the model draws when healthy', () => expect(classifyDraw(0.5, 2)).toBe('slow'));
	it.each([
		[0, 1, 'none'],
		[2.93, 1, 'flat'],
		[11.7, 4, 'flat'],
		[3.4, 1, 'low'],
		[3.9, 1, 'fair'],
		[15.6, 4, 'fair']
	])('%d V over %d cells is %s', (volts, cells, state) => expect(classifyBattery(volts, cells)).toBe(state));
});
