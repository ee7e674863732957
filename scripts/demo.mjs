import process from 'node:process';
import { serve } from './serve.mjs';

process.env.TAVREK_LOG ??= 'warn';
const { address } = await serve({ demo: true });
console.log(`
Saltmarsh Bench, the demo shop, is open at ${address}

  sign in as   role         password
  odile        manager      saltmarsh-demo
  pia          counter      saltmarsh-demo
  ines         technician   saltmarsh-demo
  (and tomasz, noor, bram: technicians)

Ctrl-C stops the server and its database.
`);
