import { levelCount, levelRect } from '../../../core/raster/levels';
import { type Rect, intersect, isEmpty, sameRect } from '../../../core/raster/rect';
import type { Recipe } from '../../../core/recipe/schema';
import type { Display, DrawReply, SceneReply, WorkerStack } from '../../workers/protocol';
import type { EngineClient } from './client';

/** What is to be seen: an image of the recipe, and the part of the frame that lies in the window. */
export interface Look {
  readonly path: string;
  /** Full-size pixels. */
  readonly rect: Rect;
  /** Screen pixels a full-size pixel. */
  readonly zoom: number;
  readonly display: Display;
}

export interface LoopEvents {
  scene(reply: SceneReply): void;
  picture(reply: DrawReply, path: string, fine: boolean): void;
  fault(message: string): void;
}

/** While something moves, no picture larger than this is computed. */
const QUICK_PIXELS = 500_000;
/** How long things must rest before the fine picture is begun. */
const REST = 140;

/**
 * Keeps the picture up with the recipe and the window: newest first, older requests dropped, a quick picture while things move, the fine
 * one when they rest. Old pixels stay on the screen until new ones come.
 */
export class PictureLoop {
  private recipe: { recipe: Recipe; stacks: readonly WorkerStack[] } | undefined;
  private sceneSent = true;
  private frame: Rect | undefined;
  private look: Look | undefined;
  private drawn = true;
  private fine = true;
  private running = false;
  /** From a touch until things have rested for a while, however long the drawing takes. */
  private moving = false;
  private restTimer: ReturnType<typeof setTimeout> | undefined;
  private over = false;
  /** What the first picture waits for, and whether there has been one. */
  private before: Promise<void> = Promise.resolve();
  private begun = false;

  constructor(
    private readonly engine: EngineClient,
    private readonly events: LoopEvents,
  ) {}

  setScene(recipe: Recipe, stacks: readonly WorkerStack[]): void {
    if (this.recipe?.recipe === recipe && this.recipe.stacks === stacks) return;
    this.recipe = { recipe, stacks };
    this.sceneSent = false;
    this.touch();
  }

  setLook(look: Look): void {
    const before = this.look;
    const same =
      before &&
      before.path === look.path &&
      before.zoom === look.zoom &&
      sameRect(before.rect, look.rect) &&
      JSON.stringify(before.display) === JSON.stringify(look.display);
    if (same) return;
    this.look = look;
    this.touch();
  }

  /** The first picture is drawn after this. */
  after(ready: Promise<void>): void {
    this.before = ready;
  }

  /** Draws again: figures have come in. */
  again(): void {
    this.drawn = false;
    void this.run();
  }

  close(): void {
    this.over = true;
    clearTimeout(this.restTimer);
  }

  private touch(): void {
    this.moving = true;
    clearTimeout(this.restTimer);
    this.restTimer = setTimeout(() => {
      this.moving = false;
      // What was drawn quickly is drawn finely now; a picture that was fine already stays.
      if (!this.fine) this.again();
    }, REST);
    this.drawn = false;
    void this.run();
  }

  private async run(): Promise<void> {
    if (this.running || this.over) return;
    this.running = true;
    try {
      while (!this.drawn && !this.over) {
        this.drawn = true;
        await this.once();
      }
    } catch (fault) {
      if (!this.over) this.events.fault(fault instanceof Error ? fault.message : String(fault));
    } finally {
      this.running = false;
    }
    if (!this.drawn && !this.over) void this.run();
  }

  private async once(): Promise<void> {
    if (this.recipe && !this.sceneSent) {
      this.sceneSent = true;
      const reply = await this.engine.ask({ type: 'scene', ...this.recipe });
      this.frame = reply.frame;
      if (this.over) return;
      this.events.scene(reply);
    }
    const { look, frame } = this;
    if (!look || !frame) return;
    const fineLevel = this.levelFor(look.zoom, frame);
    let level = fineLevel;
    // The first picture is a quick one: something is better than nothing.
    if (this.moving || !this.begun)
      while (this.pixels(look, frame, level) > QUICK_PIXELS && level < levelCount(frame.width, frame.height) - 1)
        level++;
    if (!this.begun) await this.before;
    await this.draw(look, frame, level, level === fineLevel);
    this.begun = true;
    this.fine = level === fineLevel;
    // It rested while this was drawn: nothing else will ask for the fine one.
    if (!this.fine && !this.moving) this.drawn = false;
  }

  private async draw(look: Look, frame: Rect, level: number, fine: boolean): Promise<void> {
    const rect = intersect(levelRect(look.rect, level), levelRect(frame, level));
    if (isEmpty(rect)) return;
    const reply = await this.engine.ask({ type: 'draw', path: look.path, rect, level, display: look.display });
    if (this.over) reply.bitmap.close();
    else this.events.picture(reply, look.path, fine);
  }

  /** The coarsest level whose pixels are no larger than the screen's. */
  private levelFor(zoom: number, frame: Rect): number {
    return Math.min(levelCount(frame.width, frame.height) - 1, Math.max(0, Math.floor(Math.log2(1 / zoom) + 0.02)));
  }

  private pixels(look: Look, frame: Rect, level: number): number {
    const rect = intersect(levelRect(look.rect, level), levelRect(frame, level));
    return rect.width * rect.height;
  }
}
