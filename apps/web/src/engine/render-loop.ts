import { levelCount, rectAtLevel } from '@owl-loom/image/pyramid/pyramid';
import { type Rect, intersect, isEmpty, sameRect } from '@owl-loom/image/geometry/rect';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { DisplayOptions, DrawReply, RecipeInfo, WorkerStack } from '../../worker/protocol';
import type { WorkerClient } from './worker-client';
import { PreviewResolution } from './preview-resolution';
import { closeBitmaps, joinStripes, sharesOf } from './stripes';

/** What is to be seen: an image of the recipe, and the part of the frame that lies in the window. */
export interface ViewRequest {
  readonly path: string;
  /** Full-size pixels. */
  readonly rect: Rect;
  /** Screen pixels a full-size pixel. */
  readonly zoom: number;
  readonly display: DisplayOptions;
}

export interface LoopEvents {
  scene(reply: RecipeInfo): void;
  /** @param recipe the state that the picture shows */
  picture(reply: DrawReply, path: string, fine: boolean, recipe: Recipe | undefined): void;
  fault(message: string): void;
}

/** How long things must rest before the fine picture is begun. */
const REST = 140;

/**
 * Keeps the picture up with the recipe and the window: newest first, older requests dropped, a quick picture while things move, the fine
 * one when they rest. Old pixels stay on the screen until new ones come.
 */
export class RenderLoop {
  private recipe: { recipe: Recipe; stacks: readonly WorkerStack[]; beside?: Recipe } | undefined;
  private sceneSent = true;
  /** The state that the worker has, and draws. */
  private drawnOf: Recipe | undefined;
  private frame: Rect | undefined;
  private look: ViewRequest | undefined;
  private drawn = true;
  private fine = true;
  private running = false;
  /** From a touch until things have rested for a while, however long the drawing takes. */
  private moving = false;
  private touches = 0;
  private readonly pace = new PreviewResolution();
  private restTimer: ReturnType<typeof setTimeout> | undefined;
  private over = false;
  /** What the first picture waits for. */
  private before: Promise<void> = Promise.resolve();
  /** The touch whose state was shown last. */
  private shown = -1;
  /** Ends the wait for a fine picture. */
  private giveUp: () => void = () => undefined;

  constructor(
    private readonly engine: WorkerClient,
    private readonly events: LoopEvents,
  ) {}

  /** @param beside another recipe, whose images may be held against those of this one */
  setScene(recipe: Recipe, stacks: readonly WorkerStack[], beside?: Recipe): void {
    const before = this.recipe;
    if (before?.recipe === recipe && before.stacks === stacks && before.beside === beside) return;
    this.recipe = { recipe, stacks, beside };
    this.sceneSent = false;
    this.invalidate();
  }

  setLook(look: ViewRequest): void {
    const before = this.look;
    const same =
      before &&
      before.path === look.path &&
      before.zoom === look.zoom &&
      sameRect(before.rect, look.rect) &&
      JSON.stringify(before.display) === JSON.stringify(look.display);
    if (same) return;
    if (before?.path !== look.path || before.zoom !== look.zoom) this.pace.forget();
    this.look = look;
    this.invalidate();
  }

  /** The first picture is drawn after this. */
  after(ready: Promise<void>): void {
    this.before = ready;
  }

  /** Draws again: measurements have come in. */
  again(): void {
    this.drawn = false;
    void this.run();
  }

  close(): void {
    this.over = true;
    clearTimeout(this.restTimer);
  }

  private invalidate(): void {
    this.touches++;
    this.moving = true;
    this.giveUp();
    this.scheduleIdle();
    this.drawn = false;
    void this.run();
  }

  /** Rest begins when nothing was touched for a while, nor anything shown: a hand may be waiting for what it has asked for. */
  private scheduleIdle(): void {
    clearTimeout(this.restTimer);
    this.restTimer = setTimeout(() => {
      if (this.running) return;
      this.moving = false;
      // What was drawn quickly is drawn finely now; a picture that was fine already stays.
      if (!this.fine) this.again();
    }, REST);
  }

  private async run(): Promise<void> {
    if (this.running || this.over) return;
    this.running = true;
    try {
      while (!this.drawn && !this.over) {
        this.drawn = true;
        await this.once();
      }
    } catch (error) {
      if (!this.over) this.events.fault(error instanceof Error ? error.message : String(error));
    } finally {
      this.running = false;
      if (this.moving && !this.over) this.scheduleIdle();
    }
    if (!this.drawn && !this.over) void this.run();
  }

  private async once(): Promise<void> {
    // The picture is asked for together with the state that it shows: nothing waits for the first answer but the first picture.
    const sent = this.recipe && !this.sceneSent ? this.tell(this.recipe) : undefined;
    if (!this.frame) await sent;
    await Promise.all([sent, this.drawNow()]);
  }

  /** Gives the worker a new state. What is drawn before it has been taken in is of no account. */
  private async tell(state: NonNullable<RenderLoop['recipe']>): Promise<void> {
    this.sceneSent = true;
    this.drawnOf = undefined;
    const reply = await this.engine.ask({ type: 'scene', ...state });
    this.drawnOf = state.recipe;
    this.frame = reply.frame;
    if (!this.over) this.events.scene(reply);
  }

  private async drawNow(): Promise<void> {
    const { look, frame } = this;
    if (!look || !frame) return;
    const fineLevel = this.levelFor(look.zoom, frame);
    let level = fineLevel;
    // The first picture of a state is a quick one: something is better than nothing.
    const { touches } = this;
    if (this.moving || this.shown !== touches)
      while (this.pixels(look, frame, level) > this.pace.pixels && level < levelCount(frame.width, frame.height) - 1)
        level++;
    if (this.shown < 0) await this.before;
    const done = await this.draw(look, frame, level, level === fineLevel);
    if (done) this.shown = touches;
    this.fine = done && level === fineLevel;
    // It rested while this was drawn: nothing else will ask for the fine one.
    if (!this.fine && !this.moving) this.drawn = false;
  }

  /** Draws; false where it was given up for something newer. */
  private async draw(look: ViewRequest, frame: Rect, level: number, fine: boolean): Promise<boolean> {
    const rect = intersect(rectAtLevel(look.rect, level), rectAtLevel(frame, level));
    if (isEmpty(rect)) return true;
    const quick = this.moving;
    const reply = await (fine && !quick ? this.inStripes(look, rect, level) : this.whole(look, rect, level));
    if (!reply) return false;
    if (quick) this.pace.took(reply.milliseconds, rect.width * rect.height);
    // Without a state the worker drew the one before, since the newest is at fault.
    if (this.over || !this.drawnOf) closeBitmaps([reply]);
    else this.events.picture(reply, look.path, fine, this.drawnOf);
    return true;
  }

  private whole({ path, display }: ViewRequest, rect: Rect, level: number): Promise<DrawReply> {
    return this.engine.ask({ type: 'draw', path, rect, level, display });
  }

  /** A fine picture stripe by stripe, on two workers; given up as soon as something moves. */
  private async inStripes(look: ViewRequest, rect: Rect, level: number): Promise<DrawReply | undefined> {
    const [own, others] = sharesOf(rect);
    // What was taken out, or lies between two pictures, is brightened by its own range, which no stripe knows.
    if (!others || look.display.less !== undefined || look.display.apart || look.display.drift)
      return this.whole(look, rect, level);
    const { touches } = this;
    await this.engine.syncSecond();
    const { path, display } = look;
    const made: DrawReply[] = [];
    const line = async (stripes: readonly Rect[], draw: (stripe: Rect) => Promise<DrawReply>): Promise<void> => {
      for (const stripe of stripes) {
        // The hand that moves has asked for a quick one already.
        if (this.touches !== touches) return;
        made.push(await draw(stripe));
      }
    };
    const work = Promise.allSettled([
      line(own, (stripe) => this.whole(look, stripe, level)),
      line(others, (stripe) => this.engine.drawOnSecond({ type: 'draw', path, rect: stripe, level, display })),
    ]);
    // The second worker may take long over its first stripe of a recipe: the hand waits for none of it.
    const moved = new Promise<void>((resolve) => {
      this.giveUp = resolve;
    });
    const ends = await Promise.race([work, moved]);
    if (!ends) {
      void work.then(() => closeBitmaps(made));
      return undefined;
    }
    const error = ends.find((end) => end.status === 'rejected');
    if (!error && made.length === own.length + others.length) return joinStripes(rect, made);
    closeBitmaps(made);
    if (error) throw error.reason;
    return undefined;
  }

  /** The coarsest level whose pixels are no larger than the screen's. */
  private levelFor(zoom: number, frame: Rect): number {
    return Math.min(levelCount(frame.width, frame.height) - 1, Math.max(0, Math.floor(Math.log2(1 / zoom) + 0.02)));
  }

  private pixels(look: ViewRequest, frame: Rect, level: number): number {
    const rect = intersect(rectAtLevel(look.rect, level), rectAtLevel(frame, level));
    return rect.width * rect.height;
  }
}
