import { createHmac, timingSafeEqual } from 'node:crypto';
import process from 'node:process';
import { isTicketNumber } from '$lib/core/units/code';

/**
 * The address of a device's own page: its number with a seal of 132 bits that only the holder of the shop's key can make. Nothing of it is
 * stored; without a key there are no such pages.
 */
const SEAL = /^[A-Za-z0-9_-]{22}$/;

function sealOf(number: string): string | null {
	const key = process.env.TAVREK_KEY;
	if (!key) return null;
	return createHmac('sha256', key).update(`own page ${number}`).digest('base64url').slice(0, 22);
}

/** The path of a device's page; null without a key. */
export function ownPath(number: string): string | null {
	const seal = sealOf(number);
	return seal === null ? null : `/mine/${encodeURIComponent(number)}/${seal}`;
}

/** Whether a seal is that of a ticket's number, told in the same time whatever it is. */
export function isSealOf(number: string, seal: string): boolean {
	const wantedSeal = isTicketNumber(number) ? sealOf(number) : null;
	if (wantedSeal === null || !SEAL.test(seal)) return false;
	return timingSafeEqual(Buffer.from(wantedSeal), Buffer.from(seal));
}

/** Where customers reach the shop: TAVREK_ADDRESS, else null, and no link stands in a message. */
export function ownLink(number: string): string | null {
	const [address, path] = [process.env.TAVREK_ADDRESS ?? process.env.ORIGIN, ownPath(number)];
	return address && path ? `${address.replace(/\/+$/, '')}${path}` : null;
}
