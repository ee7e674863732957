/** A message as it goes out. */
export interface Outgoing {
	/** the same for each try: who gets it twice can tell */
	id: string;
	to: string;
	subject: string | null;
	text: string;
}
/** The other side had all of it and did not say whether it keeps it: to send it again may be to send it twice. */
export class PerhapsTaken extends Error {}

/** Sends one message; throws where it was not taken, or PerhapsTaken. */
export type Transport = (message: Outgoing) => Promise<void>;
