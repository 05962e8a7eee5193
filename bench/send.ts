import { once } from 'node:events';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { type IncomingMessage, request } from 'node:http';
import { basename } from 'node:path';
import { pipeline } from 'node:stream/promises';

// A process of its own that sends files one after the other, as a browser does: what it takes is measured with nothing else.
const [uploads, ...files] = process.argv.slice(2);
for (const file of files) {
  const headers = { 'Content-Type': 'application/octet-stream', 'Content-Length': (await stat(file)).size };
  const sent = request(`${uploads}?name=${encodeURIComponent(basename(file))}`, { method: 'PUT', headers });
  const answered = once(sent, 'response') as Promise<[IncomingMessage]>;
  await Promise.all([answered, pipeline(createReadStream(file, { highWaterMark: 2 ** 20 }), sent)]);
  const [answer] = await answered;
  answer.resume();
  if (answer.statusCode !== 202) throw new Error(`${basename(file)} was answered by ${answer.statusCode}`);
}
