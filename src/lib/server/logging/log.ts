import pino from 'pino';

/** What the server has to say; never bodies, passcodes or customers. */
export const log = pino({ level: process.env.TAVREK_LOG ?? 'info', base: null });
