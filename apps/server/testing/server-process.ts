import { setTimeout as rest } from 'node:timers/promises';
import { type ChildProcess, spawn } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { type Server, type Socket, connect, createServer } from 'node:net';
import { join } from 'node:path';
import { HOME } from '../system/home';

/** A port that nothing listens on. */
export const freePort = (): Promise<number> =>
  new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => resolve(port));
    });
  });

/** The built server; tests start it without asking each time whether it is built. */
const BUILT = [process.execPath, join(HOME, 'dist/server/cli.js')];

/** The way in which people start it. */
export const COMMAND: readonly string[] = [join(HOME, 'loom')];

/** Owl Loom as a process of its own, so that it can be killed. */
export class ServerProcess {
  private child: ChildProcess | undefined;
  /** What it has said on stderr. */
  stderr = '';

  constructor(
    readonly root: string,
    readonly port: number,
    private readonly program: readonly string[] = BUILT,
  ) {}

  /** Starts it, without waiting until it answers. */
  start(): void {
    const env = { ...process.env, LOOM_DATA: this.root, LOOM_LOG: 'warn' };
    const [command, ...args] = this.program;
    this.child = spawn(command, [...args, 'start', '--port', String(this.port)], {
      env,
      stdio: ['ignore', 'ignore', 'pipe'],
    });
    this.child.stderr?.on('data', (piece: Buffer) => {
      this.stderr = (this.stderr + piece.toString()).slice(-10_000);
    });
  }

  get pid(): number | undefined {
    return this.child?.pid;
  }

  get runs(): boolean {
    return this.child !== undefined && this.child.exitCode === null && this.child.signalCode === null;
  }

  signal(name: NodeJS.Signals): void {
    this.child?.kill(name);
  }

  /** Ends it, and waits until it has ended. */
  async end(name: 'SIGKILL' | 'SIGTERM'): Promise<void> {
    const { child } = this;
    if (!child || !this.runs) return;
    const over = new Promise((resolve) => child.once('exit', resolve));
    child.kill(name);
    await over;
  }

  /** The process of its database; undefined while there is none. */
  databasePid(): number | undefined {
    const path = join(this.root, 'db/db.pid');
    return existsSync(path) ? Number(readFileSync(path, 'utf8').trim()) || undefined : undefined;
  }

  /** Waits until it answers as it should. */
  async ready(): Promise<void> {
    for (let i = 0; i < 600; i++) {
      if (!this.runs) throw new Error(`Owl Loom has ended by itself: ${this.stderr}`);
      const answer = await fetch(`http://127.0.0.1:${this.port}/api/health`).catch(() => undefined);
      if (answer?.ok) return;
      await rest(100);
    }
    throw new Error(`Owl Loom did not come up: ${this.stderr}`);
  }
}

/** A line to a server that can be cut in the middle of anything. */
export class CuttableConnection {
  private readonly sockets = new Set<Socket>();
  private cutAfter = Number.POSITIVE_INFINITY;

  private constructor(
    private readonly server: Server,
    readonly port: number,
  ) {}

  static async open(to: number): Promise<CuttableConnection> {
    const port = await freePort();
    const server = createServer((socket) => line.through(socket, to));
    const line = new CuttableConnection(server, port);
    await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve));
    return line;
  }

  /** From now on the line breaks after so many bytes in either direction. */
  cut(after: number): void {
    this.cutAfter = after;
  }

  mend(): void {
    this.cutAfter = Number.POSITIVE_INFINITY;
  }

  private through(from: Socket, port: number): void {
    const to = connect(port, '127.0.0.1');
    this.sockets.add(from).add(to);
    const drop = (): void => {
      from.destroy();
      to.destroy();
      this.sockets.delete(from);
      this.sockets.delete(to);
    };
    let passed = 0;
    const pass = (into: Socket) => (piece: Buffer) => {
      passed += piece.length;
      if (passed > this.cutAfter) drop();
      else into.write(piece);
    };
    // Its own Host is what the server answers to: the line hands on what it is given.
    from.on('data', pass(to));
    to.on('data', pass(from));
    for (const socket of [from, to]) {
      socket.on('error', drop);
      socket.on('close', drop);
    }
  }

  close(): void {
    for (const socket of this.sockets) socket.destroy();
    this.server.close();
  }
}
