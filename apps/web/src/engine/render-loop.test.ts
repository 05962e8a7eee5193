import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { WorkerClient } from './worker-client';
import { type ViewRequest, RenderLoop } from './render-loop';

const frame = { x: 0, y: 0, width: 4096, height: 4096 };
const recipe = (name: string): Recipe => ({ format: 'owl-loom-recipe', version: 1, name, strands: [] });
const look = (path: string, zoom = 0.25): ViewRequest => ({ path, rect: frame, zoom, display: { mode: 'bright' } });

interface Asked {
  type: string;
  path?: string;
  level?: number;
  rect?: Rect;
  recipe?: Recipe;
}

/** An engine that answers each request after a while, and remembers what it was asked. */
function slowEngine(ms: number, fails: (asked: Asked) => string | undefined = () => undefined) {
  const asked: Asked[] = [];
  const closed = { count: 0 };
  const ask = async (request: Asked) => {
    asked.push(request);
    await new Promise((resolve) => setTimeout(resolve, ms));
    const error = fails(request);
    if (error) throw new Error(error);
    const { rect, level } = request;
    const bitmap = { close: () => closed.count++ };
    return request.type === 'scene'
      ? { frame, paths: {}, warnings: [], faults: [] }
      : { bitmap, other: null, apart: null, rect, level, guessed: [], proof: false, milliseconds: 1 };
  };
  const helped: Asked[] = [];
  const help = (request: Asked) => {
    helped.push(request);
    return ask(request);
  };
  const share = async () => undefined;
  return { asked, helped, closed, engine: { ask, drawOnSecond: help, syncSecond: share } as unknown as WorkerClient };
}

/** A canvas that only counts what is drawn on it. */
class CountingCanvas {
  static rows: number[] = [];
  getContext() {
    return { drawImage: (_: unknown, __: number, y: number) => CountingCanvas.rows.push(y) };
  }
  transferToImageBitmap() {
    return { close: () => undefined };
  }
}
vi.stubGlobal('OffscreenCanvas', CountingCanvas);

const events = () => ({ scene: vi.fn(), picture: vi.fn(), fault: vi.fn() });
/** Time that goes by in these tests alone: how busy the machine is decides nothing. */
const rest = (ms: number) => vi.advanceTimersByTimeAsync(ms);
beforeEach(() => void vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] }));
afterEach(() => void vi.useRealTimers());

describe('the picture loop', () => {
  it('draws a quick picture while things move, and the fine one when they rest', async () => {
    const { asked, engine } = slowEngine(5);
    const told = events();
    const loop = new RenderLoop(engine, told);
    loop.setScene(recipe('a'), []);
    loop.setLook(look('cloth'));
    await rest(400);
    const levels = asked.filter((one) => one.type === 'draw').map((one) => one.level);
    expect(levels[0]).toBeGreaterThan(2);
    expect(levels.at(-1)).toBe(2);
    expect(told.picture.mock.calls.at(-1)?.[2]).toBe(true);
    loop.close();
  });

  it('asks for a picture together with the state that it shows, and says which state that was', async () => {
    const { asked, engine } = slowEngine(15);
    const told = events();
    const loop = new RenderLoop(engine, told);
    loop.setScene(recipe('a'), []);
    loop.setLook(look('cloth', 0.01));
    await rest(120);
    const [before, next] = [asked.length, recipe('b')];
    loop.setScene(next, []);
    await rest(5);
    // Neither has been answered yet.
    expect(asked.slice(before).map(({ type }) => type)).toEqual(['scene', 'draw']);
    await rest(120);
    expect(told.scene.mock.invocationCallOrder.at(-1)).toBeLessThan(told.picture.mock.invocationCallOrder.at(-1) ?? 0);
    expect(told.picture.mock.calls.at(-1)?.[3]).toBe(next);
    loop.close();
  });

  it('shows nothing for a state that cannot be taken in: what is drawn then is of the state before', async () => {
    const { closed, engine } = slowEngine(5, (one) => (one.recipe?.name === 'wrong' ? 'a fault' : undefined));
    const told = events();
    const loop = new RenderLoop(engine, told);
    loop.setScene(recipe('a'), []);
    loop.setLook(look('cloth', 0.01));
    await rest(250);
    const pictures = told.picture.mock.calls.length;
    const given = closed.count;
    loop.setScene(recipe('wrong'), []);
    await rest(100);
    expect(told.fault).toHaveBeenCalledWith('a fault');
    expect(told.picture.mock.calls.length).toBe(pictures);
    expect(closed.count).toBeGreaterThan(given);
    loop.setScene(recipe('c'), []);
    await rest(250);
    expect(told.picture.mock.calls.length).toBeGreaterThan(pictures);
    loop.close();
  });

  it('draws the fine picture in stripes on two workers, and each row once', async () => {
    const { asked, helped, closed, engine } = slowEngine(5);
    const told = events();
    const loop = new RenderLoop(engine, told);
    loop.setScene(recipe('a'), []);
    loop.setLook(look('cloth'));
    await rest(500);
    const fine = asked.filter((one) => one.type === 'draw' && one.level === 2);
    expect(fine.length).toBeGreaterThan(3);
    expect(helped).toHaveLength(fine.length / 2);
    const rows = fine.map(({ rect }) => rect ?? frame).sort((a, b) => a.y - b.y);
    rows.forEach((rect, i) => expect(rect.y).toBe(i === 0 ? 0 : rows[i - 1].y + rows[i - 1].height));
    expect(rows.reduce((sum, rect) => sum + rect.height, 0)).toBe(1024);
    expect(told.picture.mock.calls.at(-1)?.[0].rect).toEqual({ x: 0, y: 0, width: 1024, height: 1024 });
    expect(closed.count).toBe(fine.length);
    loop.close();
  });

  it('gives a fine picture up when something moves, and draws a quick one at once', async () => {
    const { asked, closed, engine } = slowEngine(60);
    const told = events();
    const loop = new RenderLoop(engine, told);
    loop.setScene(recipe('a'), []);
    loop.setLook(look('cloth'));
    while (asked.filter((one) => one.level === 2).length < 2) await rest(5);
    const before = asked.length;
    const pictures = told.picture.mock.calls.length;
    loop.setScene(recipe('b'), []);
    while (told.picture.mock.calls.length === pictures) await rest(5);
    const next = asked.slice(before, before + 2);
    expect(next.map(({ type }) => type)).toEqual(['scene', 'draw']);
    expect(next[1].level).toBeGreaterThan(2);
    expect(told.picture.mock.calls.at(-1)?.[2]).toBe(false);
    // What had been drawn of it is let go.
    expect(closed.count).toBeGreaterThanOrEqual(2);
    while (!told.picture.mock.calls.at(-1)?.[2]) await rest(20);
    loop.close();
  });

  it('waits for nothing that the second worker has under way when something moves, and lets go of it when it comes', async () => {
    const { closed, engine } = slowEngine(5);
    const help = async (request: never) => {
      await new Promise((resolve) => setTimeout(resolve, 9000));
      return engine.drawOnSecond(request);
    };
    const told = events();
    const loop = new RenderLoop({ ...engine, drawOnSecond: help } as unknown as WorkerClient, told);
    loop.setScene(recipe('a'), []);
    loop.setLook(look('cloth'));
    await rest(1500);
    const pictures = told.picture.mock.calls.length;
    const before = closed.count;
    loop.setScene(recipe('b'), []);
    await rest(50);
    expect(told.picture.mock.calls.length).toBe(pictures + 1);
    loop.close();
    await rest(20_000);
    expect(closed.count).toBeGreaterThan(before);
  });

  it('leaves out what was overtaken: of many changes the last is drawn', async () => {
    const { asked, engine } = slowEngine(25);
    const loop = new RenderLoop(engine, events());
    loop.setLook(look('cloth'));
    for (let i = 0; i < 30; i++) {
      loop.setScene(recipe(String(i)), []);
      await rest(4);
    }
    await rest(500);
    const scenes = asked.filter((one) => one.type === 'scene').map((one) => one.recipe?.name);
    expect(scenes.at(-1)).toBe('29');
    expect(scenes.length).toBeLessThan(15);
    loop.close();
  });

  it('asks nothing for the same look again', async () => {
    const { asked, engine } = slowEngine(1);
    const loop = new RenderLoop(engine, events());
    loop.setScene(recipe('a'), []);
    loop.setLook(look('cloth', 1 / 16));
    await rest(250);
    const before = asked.length;
    loop.setLook(look('cloth', 1 / 16));
    await rest(50);
    expect(asked.length).toBe(before);
    loop.close();
  });

  it('tells of a fault and goes on with the next state', async () => {
    const { engine } = slowEngine(1, (one) => (one.path === 'bad' ? 'It cannot be shown.' : undefined));
    const told = events();
    const loop = new RenderLoop(engine, told);
    loop.setScene(recipe('a'), []);
    loop.setLook(look('bad', 1 / 16));
    await rest(60);
    expect(told.fault).toHaveBeenCalledWith('It cannot be shown.');
    expect(told.picture).not.toHaveBeenCalled();
    loop.setLook(look('good', 1 / 16));
    await rest(60);
    expect(told.picture).toHaveBeenCalled();
    loop.close();
  });
});
