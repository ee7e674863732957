import type { Customer } from '../tickets/ticket-record';
import { drawOne, type Random } from '../units/random';

/** Invented people who bring things to the demo shop. */
const FIRST =
	'Alva Birk Cato Dagny Edda Falk Gisla Hauk Idun Jorun Kell Lune Mika Nils Oda Pell Runa Siv Tove Ulv Vida Ylva'.split(
		' '
	);
const LAST =
	'Ashdown Brakewell Cordray Dunmarsh Eelwick Farrowby Gullstrand Hythe Kelpmoor Lanyard Merrow Oakum Pebblet Reedham Shingle Tidewell Weirstone'.split(
		' '
	);
const TRADE = ['Harbour Rentals', 'Breakwater Dive School', 'Quay Market Stalls', 'Northpier Couriers'];

/** One of the trade's customers now and then, else somebody with a name and a telephone. */
export function drawCustomer(random: Random): Customer {
	if (random() < 0.1) return { name: drawOne(random, TRADE), kind: 'trade' };
	const name = `${drawOne(random, FIRST)} ${drawOne(random, LAST)}`;
	return { name, kind: 'private', phone: `0555 ${String(Math.floor(random() * 1e6)).padStart(6, '0')}` };
}
