import { Readable } from 'node:stream';
import { crc32, deflateRawSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ZipFile } from 'yazl';
import { TestServer } from '../testing/api';
import { importArchive } from '../testing/archive-fixture';
import { zipBytes } from '../testing/zip';
import { MANIFEST } from '../archive-file/manifest';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.open(300_000_000);
});
afterAll(() => server.close());

/** A zip of one file, made of the same piece over and over: small, however much it unpacks to. */
async function repeated(name: string, head: string, piece: string, times: number, tail: string): Promise<Buffer> {
  const block = Buffer.from(piece.repeat(1000));
  const zip = new ZipFile();
  zip.addReadStream(
    Readable.from(
      (function* () {
        yield Buffer.from(head);
        for (let i = 0; i < times / 1000; i++) yield block;
        yield Buffer.from(tail);
      })(),
    ),
    name,
  );
  return zipBytes(zip);
}

/** A zip of one stored or deflated entry that says another size of it than it has. */
function lying(name: string, content: Buffer, said: number): Buffer {
  const packed = deflateRawSync(content);
  const sum = crc32(content);
  const [label, local, central, end] = [Buffer.from(name), Buffer.alloc(30), Buffer.alloc(46), Buffer.alloc(22)];
  for (const [head, at] of [
    [local, 0],
    [central, 2],
  ] as const) {
    head.writeUInt32LE(head === local ? 0x04034b50 : 0x02014b50, 0);
    head.writeUInt16LE(20, 4 + at);
    head.writeUInt16LE(8, 8 + at);
    head.writeUInt32LE(sum, 14 + at);
    head.writeUInt32LE(packed.length, 18 + at);
    head.writeUInt32LE(said, 22 + at);
    head.writeUInt16LE(label.length, 26 + at);
  }
  const start = local.length + label.length + packed.length;
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(1, 8);
  end.writeUInt16LE(1, 10);
  end.writeUInt32LE(central.length + label.length, 12);
  end.writeUInt32LE(start, 16);
  return Buffer.concat([local, label, packed, central, label, end]);
}

/** Brings an archive in while the server is asked again and again; how it ended, and how many answers came meanwhile. */
async function whileAsked(bytes: Buffer): Promise<{ message: string | null; answers: number }> {
  let [asking, answers] = [true, 0];
  const asked = (async () => {
    while (asking) {
      await server.agent().get('/api/health').expect(200);
      answers++;
    }
  })();
  const { state, message } = await importArchive(server, bytes);
  asking = false;
  await asked;
  expect(state).toBe('failed');
  return { message, answers };
}

describe('an archive that unpacks to far more than it is', () => {
  it('is refused by what it says of its size, and nobody waits for it', async () => {
    const bomb = await repeated(MANIFEST, '{"format":"owl-loom-archive","version":1,"x":[', '[],', 80_000_000, '0]}');
    expect(bomb.length).toBeLessThan(600_000);
    const { message, answers } = await whileAsked(bomb);
    expect(message).toMatch(/holds a manifest.json that is far too large/);
    expect(answers).toBeGreaterThan(1);
  });

  it('is refused where it lies about its size', async () => {
    const { message } = await whileAsked(lying(MANIFEST, Buffer.alloc(40_000_000, '[],'), 1000));
    expect(message).toMatch(/not a complete zip file|is damaged|far too large/);
  });

  it('is refused by the number of its lists before they are read', async () => {
    const bomb = await repeated(MANIFEST, '{"format":"owl-loom-archive","version":1,"x":[', '[],', 5_000_000, '0]}');
    const { message, answers } = await whileAsked(bomb);
    expect(message).toMatch(/lists far more than any archive of ours/);
    expect(answers).toBeGreaterThan(1);
    const deep = await repeated(MANIFEST, '', '[', 4_000_000, '');
    expect((await whileAsked(deep)).message).toMatch(/lists far more than any archive of ours/);
  });

  it('is not taken where it is larger than a file may be', async () => {
    const { body } = await server
      .agent()
      .put('/api/archives?name=large.zip')
      .set('Content-Type', 'application/octet-stream')
      .set('Content-Length', '300000001')
      .send(Buffer.alloc(10))
      .expect(413);
    expect(body.error.message).toMatch(/larger than the 300 MB/);
  });
});
