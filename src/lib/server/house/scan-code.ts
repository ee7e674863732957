import { toSVG } from 'bwip-js/node';

/** A scannable code of a ticket's number: Code 128 (ISO/IEC 15417), as SVG. */
export function scanCode(number: string): string {
	return toSVG({ bcid: 'code128', text: number, height: 11, includetext: false, paddingwidth: 0 });
}
