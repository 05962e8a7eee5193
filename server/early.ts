import type { IncomingMessage, ServerResponse } from 'node:http';

const SENTENCE = 'Owl Loom is starting; it answers in a moment.';

const PAGE = `<!doctype html><html lang="en"><meta charset="utf-8"><meta http-equiv="refresh" content="1"><title>Owl Loom</title>
<body style="margin:0;height:100vh;display:grid;place-items:center;background:#161616;color:#b5b5b5;font:16px system-ui,sans-serif">
<p>${SENTENCE}</p></body></html>`;

/** Answers what comes before everything has started: programs are told to come again, people see a page that opens by itself. */
export function answerEarly(request: IncomingMessage, response: ServerResponse): void {
  const forPeople = request.method === 'GET' && (request.headers.accept ?? '').includes('text/html');
  response.writeHead(503, {
    'Content-Type': forPeople ? 'text/html; charset=utf-8' : 'application/json; charset=utf-8',
    'Retry-After': '1',
    'Cache-Control': 'no-store',
    Connection: 'close',
  });
  response.end(forPeople ? PAGE : JSON.stringify({ error: { code: 'starting', message: SENTENCE } }));
  // What is still being sent is of no use; the sender must not wait for ever.
  request.resume();
}
