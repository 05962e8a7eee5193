import type { IncomingMessage, RequestListener, ServerResponse } from 'node:http';

/** A page that opens by itself once there is more to see. */
const pageOf = (
  sentence: string,
): string => `<!doctype html><html lang="en"><meta charset="utf-8"><meta http-equiv="refresh" content="1"><title>Owl Loom</title>
<body style="margin:0;height:100vh;display:grid;place-items:center;background:#161616;color:#b5b5b5;font:16px system-ui,sans-serif">
<p>${sentence}</p></body></html>`;

/** Answers for a server that has nothing to say yet, or no more: programs are told to come again, people see a page that opens by itself. */
const notNow =
  (code: string, sentence: string): RequestListener =>
  (request: IncomingMessage, response: ServerResponse): void => {
    const forPeople = request.method === 'GET' && (request.headers.accept ?? '').includes('text/html');
    response.writeHead(503, {
      'Content-Type': forPeople ? 'text/html; charset=utf-8' : 'application/json; charset=utf-8',
      'Retry-After': '1',
      'Cache-Control': 'no-store',
      Connection: 'close',
    });
    response.end(forPeople ? pageOf(sentence) : JSON.stringify({ error: { code, message: sentence } }));
    // What is still being sent is of no use; the sender must not wait for ever.
    request.resume();
  };

/** Answers what comes before everything has started. */
export const respondStarting = notNow('starting', 'Owl Loom is starting; it answers in a moment.');

/** Answers what comes after it has begun to stop. */
export const respondStopping = notNow('stopping', 'Owl Loom is stopping; start it again to go on.');
