import { basename } from 'node:path';
import { Client } from '../apps/server/cli/client';

// A process of its own that sends files one after the other, as a browser does: what it takes is measured with nothing else.
const [address, key, target, ...files] = process.argv.slice(2);
const client = new Client({ address, key });
for (const file of files)
  await client.send(`/targets/${target}/uploads?name=${encodeURIComponent(basename(file))}`, file);
