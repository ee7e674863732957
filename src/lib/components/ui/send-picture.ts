import type { KeptPhoto } from '$lib/server/photos/store';

/**
 * Sends a picture to where it is kept.
 * @returns what it is known by, or in words what went wrong and what to do
 */
export async function sendPicture(address: string, file: File): Promise<KeptPhoto | string> {
	const response = await fetch(address, {
		method: 'POST',
		headers: { 'content-type': file.type || 'application/octet-stream' },
		body: file
	}).catch(() => null);
	if (!response) return `${file.name} was not sent: the server could not be reached; send it again`;
	if (response.status === 413) return `${file.name} is larger than 16 MB; send a smaller picture`;
	const answer = (await response.json().catch(() => null)) as
		({ ok: true } & KeptPhoto) | { ok: false; refusal: { message: string } } | null;
	return answer?.ok
		? answer
		: `${file.name} ${answer?.refusal.message ?? `was refused (${response.status})`}`;
}
