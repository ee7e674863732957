/** A message as it goes out. */
export interface Outgoing {
	/** the same for each try: who gets it twice can tell */
	id: string;
	to: string;
	subject: string | null;
	text: string;
}
/** Sends one message; throws where it was not taken. */
export type Transport = (message: Outgoing) => Promise<void>;
