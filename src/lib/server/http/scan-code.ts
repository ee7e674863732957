import { toSVG } from 'bwip-js/node';

/** A scannable code of a ticket's number: Code 128 (ISO/IEC 15417), as the address of an SVG picture. */
export function scanCode(number: string): string {
	const svg = toSVG({ bcid: 'code128', text: number, height: 11, includetext: false, paddingwidth: 0 });
	return `data:image/svg+xml;base64,${Buffer.from(svg).toString('base64')}`;
}

/** An address to be read with a telephone: QR code (ISO/IEC 18004), as the address of an SVG picture. */
export function addressCode(address: string): string {
	const svg = toSVG({ bcid: 'qrcode', text: address });
	return `data:image/svg+xml;base64,${Buffer.from(svg).toString('base64')}`;
}
