import { connect } from 'node:net';
import { expect } from 'vitest';

// Requests as bytes: what no client would send, these do.

/** A sentence for a person: it ends as sentences do, and holds no words of a checker, of SQL, of code, nor a path of ours. */
export function isSentence(text: unknown): void {
  expect(text).toMatch(/^[^\n]{8,400}[.!?]$/);
  expect(text).not.toMatch(
    /Invalid (input|option|key|element|string|UUID)|expected|received|undefined|NaN|Zod|SELECT|ER_|SQL|at Object|node_modules|\/tmp\/owl|Error:|\[object/,
  );
}

/** Sends the lines of a head, and a body; what comes back until the line is closed. */
export function sentLines(address: string, lines: readonly string[], body: string | Buffer = ''): Promise<string> {
  const { hostname, port } = new URL(address);
  return new Promise((resolve, reject) => {
    const socket = connect(Number(port), hostname, () => {
      socket.write(`${lines.join('\r\n')}\r\n\r\n`);
      socket.write(body);
    });
    let answer = '';
    socket.setTimeout(20_000, () => socket.destroy(new Error(`no answer to ${lines[0]}`)));
    socket.on('data', (piece) => {
      answer += piece.toString('utf8');
    });
    socket.on('close', () => resolve(answer));
    socket.on('error', reject);
  });
}

export interface Asked {
  readonly method: string;
  readonly path: string;
  readonly headers?: Readonly<Record<string, string>>;
  readonly body?: string | Buffer;
}

/** Sends a request as it is, in no other way mended than that the server knows where it ends. */
export async function sent(
  address: string,
  { method, path, headers = {}, body = '' }: Asked,
): Promise<{ status: number; text: string }> {
  const length = String(Buffer.byteLength(body));
  const all = { Host: new URL(address).host, Connection: 'close', 'Content-Length': length, ...headers };
  const lines = Object.entries(all).map(([name, value]) => `${name}: ${value}`);
  const answer = await sentLines(address, [`${method} ${path} HTTP/1.1`, ...lines], body);
  return { status: Number(answer.split(' ')[1]), text: answer.split('\r\n\r\n').slice(1).join('') };
}

/** Sees that a request is refused with a sentence of ours, or answered by one of these statuses. */
export async function refused(address: string, asked: Asked, allowed: readonly number[] = []): Promise<void> {
  const { status, text } = await sent(address, asked);
  const where = `${asked.method} ${asked.path.slice(0, 120)} ${String(asked.body ?? '').slice(0, 80)}`;
  if (allowed.includes(status)) return;
  expect(status, where).toBeGreaterThanOrEqual(400);
  expect(status, where).toBeLessThan(500);
  const json = /\{.*\}/s.exec(text)?.[0] ?? text;
  expect(json, where).toMatch(/^\{"error"/);
  isSentence(JSON.parse(json).error.message);
}
