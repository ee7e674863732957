import { serve } from './serve.mjs';
import { say } from './setup.mjs';

const { address } = await serve({ demo: false });
say(`Tavrek serves at ${address} (Ctrl-C stops it). An empty shop asks for its manager first.`);
