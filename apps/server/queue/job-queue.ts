import { setTimeout as delay } from 'node:timers/promises';
import { randomUUID } from 'node:crypto';
import { EventEmitter, setMaxListeners } from 'node:events';
import type { Logger } from 'pino';
import { type DataSource, In, IsNull } from 'typeorm';
import { UserError, userMessageOf } from '@owl-loom/base/errors';
import { translateSystemError } from '../system/system-errors';
import { JOB_KINDS, JOBS, type JobKind, type JobPayload, type PublicJob } from '@owl-loom/api/jobs';
import { type Job, JobEntity } from '../storage/db/entities';
import { toJobDto } from './job-dto';
import { type JobTable, type JobWork, LANES } from './job-work';
import { updateRow } from '../storage/db/write-rows';

/** A job that was at work this often when the server ended without having been stopped is not tried again: it may be what ended it. */
const MOST_ATTEMPTS = 2;
/** How long the queue waits for a database that is away, in milliseconds. */
const AGAIN = 1000;

/** Jobs kept in the database: what was running when the process died is taken up again at the next start. */
export class JobQueue {
  readonly events = new EventEmitter();
  private readonly running = new Map<string, { readonly kind: JobKind; readonly controller: AbortController }>();
  /** What the running jobs are at, by id, as they say. */
  private readonly doings = new Map<string, string>();
  private table: JobTable | undefined;
  private stopping = false;
  private waking = Promise.resolve();
  private again: NodeJS.Timeout | undefined;

  constructor(
    private readonly data: DataSource,
    private readonly log: Logger,
    /** Jobs that run side by side; each spreads over all cores by itself. */
    private readonly concurrency = 2,
  ) {
    this.events.setMaxListeners(200);
  }

  /** Begins to work, with what an earlier process left. */
  async start(work: JobTable): Promise<void> {
    this.table = work;
    const table = this.data.getRepository(JobEntity);
    for (const job of await table.findBy({ state: 'running' })) {
      const again = job.attempts < MOST_ATTEMPTS;
      await table.update(
        job.id,
        again
          ? { state: 'queued', progress: 0 }
          : {
              state: 'failed',
              message: `The server ended ${job.attempts} times while this was at work, so it is not tried again; begin it anew if something else was the cause.`,
            },
      );
      this.log.warn({ job: job.id, kind: job.kind, again }, 'a job was cut off by the end of the last run');
    }
    this.wake();
  }

  async add<K extends JobKind>(kind: K, targetId: string | null, title: string, payload: JobPayload<K>): Promise<Job> {
    const table = this.data.getRepository(JobEntity);
    const job = await table.save({
      id: randomUUID(),
      kind,
      targetId,
      title,
      payload,
      state: 'queued',
      result: null,
      progress: 0,
      message: null,
      attempts: 0,
    });
    this.emitJob(job);
    this.wake();
    return job;
  }

  /** Stops a job; one that has ended stays as it is. */
  async cancel(id: string): Promise<void> {
    const job = await this.jobOf(id);
    const running = this.running.get(id);
    if (running) running.controller.abort(new UserError('cancelled', 'Stopped.'));
    else if (job.state === 'queued')
      await this.finish(job, { state: 'cancelled', message: 'Stopped before it began.' });
  }

  /** Lets go of everything; running jobs are taken up again at the next start. */
  async stop(): Promise<void> {
    this.stopping = true;
    clearTimeout(this.again);
    for (const { controller } of this.running.values()) controller.abort(new Error('the server is stopping'));
    while (this.running.size > 0) await delay(20);
  }

  private wake(): void {
    // What is added before the start waits for it.
    if (!this.table) return;
    this.waking = this.waking
      .then(() => this.dispatch())
      .catch((error: unknown) => {
        this.log.error(error, 'the jobs could not be read');
        if (this.stopping || this.again) return;
        // Without another try a queue would stand still until something else is added to it.
        this.again = setTimeout(() => {
          this.again = undefined;
          this.wake();
        }, AGAIN);
      });
  }

  /** Whether a job of a kind and with this payload is queued or at work. */
  async isPending<K extends JobKind>(kind: K, targetId: string | null, payload: JobPayload<K>): Promise<boolean> {
    const rows = await this.data
      .getRepository(JobEntity)
      .findBy({ kind, targetId: targetId ?? IsNull(), state: In(['queued', 'running']) });
    return rows.some((row) => JSON.stringify(row.payload) === JSON.stringify(payload));
  }

  private workOf<K extends JobKind>(kind: K): JobTable[K] {
    if (!this.table) throw new Error('the queue has not been started');
    return this.table[kind];
  }

  private kindsIn(lane: JobWork<JobKind>['lane']): JobKind[] {
    return JOB_KINDS.filter((kind) => this.workOf(kind).lane === lane);
  }

  /** Queued jobs, lane by lane however many others wait; within a lane the oldest first. */
  private async queued(): Promise<Job[]> {
    const table = this.data.getRepository(JobEntity);
    const jobs: Job[] = [];
    for (const lane of LANES)
      jobs.push(
        ...(await table.find({
          where: { state: 'queued', kind: In(this.kindsIn(lane)) },
          order: { createdAt: 'ASC' },
          take: 20,
        })),
      );
    return jobs;
  }

  private async dispatch(): Promise<void> {
    if (this.stopping) return;
    for (const job of await this.queued()) {
      if (this.running.has(job.id) || !this.hasSlot(job.kind)) continue;
      const controller = new AbortController();
      // Every band of a job listens for its end.
      setMaxListeners(0, controller.signal);
      this.running.set(job.id, { kind: job.kind, controller });
      job.state = 'running';
      job.attempts += 1;
      try {
        await this.data.getRepository(JobEntity).update(job.id, { state: job.state, attempts: job.attempts });
      } catch (error) {
        // The database is away: the place is given back, and the job stays in the queue until it can be read again.
        this.running.delete(job.id);
        throw error;
      }
      this.emitJob(job);
      void this.run(job, controller);
    }
  }

  /** Repairs have a place of their own, one at a time; there is one more for what a screen waits for. */
  private hasSlot(kind: JobKind): boolean {
    const lane = (of: JobKind) => this.workOf(of).lane;
    const repairs = [...this.running.values()].filter((one) => lane(one.kind) === 'repair').length;
    if (lane(kind) === 'repair') return repairs === 0;
    return this.running.size - repairs < this.concurrency + (lane(kind) === 'screen' ? 1 : 0);
  }

  /** How a job ends; waits for it. */
  async waitForEnd(id: string): Promise<Pick<Job, 'state' | 'message'>> {
    const ended = (job: Pick<Job, 'state'>): boolean => !['queued', 'running'].includes(job.state);
    return new Promise((resolve, reject) => {
      const announce = (job: PublicJob): void => {
        if (job.id === id && ended(job)) leave(job);
      };
      const leave = (job: Pick<Job, 'state' | 'message'>): void => {
        this.events.off('job', announce);
        resolve(job);
      };
      this.events.on('job', announce);
      // It may have ended before anyone listened.
      this.data
        .getRepository(JobEntity)
        .findOneBy({ id })
        .then((job) => job && ended(job) && leave(job), reject);
    });
  }

  private async run(job: Job, controller: AbortController): Promise<void> {
    const { signal } = controller;
    let announced = 0;
    const tellAtTimes = () => {
      const now = Date.now();
      if (now - announced <= 120) return;
      announced = now;
      this.emitJob(job);
    };
    const progress = (share: number) => {
      job.progress = share;
      tellAtTimes();
    };
    const doing = (what: string) => {
      this.doings.set(job.id, what);
      tellAtTimes();
    };
    try {
      const payload = JOBS[job.kind].payload.parse(job.payload);
      // The compiler cannot know that both are of this job's kind.
      const { run } = this.workOf(job.kind) as JobWork<JobKind>;
      const result = await run({ job, payload, targetId: job.targetId ?? '', signal, progress, doing });
      await this.finish(job, { state: 'done', progress: 1, result: result ?? null });
    } catch (error) {
      const known = error instanceof UserError ? error : translateSystemError(error);
      if (this.stopping) await this.requeue(job);
      else if (signal.aborted) await this.finish(job, { state: 'cancelled', message: 'Stopped.' });
      else if (known?.code === 'database-gone') await this.requeue(job);
      else {
        if (!known) this.log.error({ err: error, job: job.id }, 'a job failed');
        await this.finish(job, { state: 'failed', message: userMessageOf(known ?? error) });
      }
    } finally {
      this.running.delete(job.id);
      this.wake();
    }
  }

  /**
   * Puts a job back into the queue: the server is stopping, or the database is away. That is no fault of the job's, and does not count as a
   * try.
   */
  private async requeue(job: Job): Promise<void> {
    this.log.info({ job: job.id }, 'a job was put down; it is taken up again');
    job.attempts -= 1;
    await this.finish(job, { state: 'queued', progress: 0 }).catch((error: unknown) => {
      // With no database to tell it to, the job stands there as running, which the next start takes up as well.
      this.log.warn(error, 'a job that was put down could not be written down');
    });
  }

  private async finish(job: Job, change: Partial<Job>): Promise<void> {
    Object.assign(job, change);
    this.doings.delete(job.id);
    // The database may be away for a while; the end of a job must not be lost for that.
    for (let tries = 0; ; tries++) {
      try {
        const { state, progress, message, result, attempts } = job;
        await updateRow(this.data.getRepository(JobEntity), job.id, { state, progress, message, result, attempts });
        break;
      } catch (error) {
        if (tries >= 60 || this.stopping) throw error;
        await delay(500);
      }
    }
    this.emitJob(job);
  }

  private public(job: Job): PublicJob {
    return toJobDto(job, this.doings.get(job.id));
  }

  private emitJob(job: Job): void {
    this.events.emit('job', this.public(job));
  }

  /** @throws UserError where there is none with that id */
  async one(id: string): Promise<PublicJob> {
    return this.public(await this.jobOf(id));
  }

  private async jobOf(id: string): Promise<Job> {
    const job = id.length <= 36 ? await this.data.getRepository(JobEntity).findOneBy({ id }) : null;
    if (!job) throw new UserError('no-job', 'There is no such job.');
    return job;
  }

  /** Jobs that are under way or ended lately, newest first. */
  async recent(targetId?: string): Promise<PublicJob[]> {
    const table = this.data.getRepository(JobEntity);
    const active = await table.find({
      where: { state: In(['queued', 'running']), ...(targetId && { targetId }) },
      order: { createdAt: 'DESC' },
    });
    const ended = await table.find({
      where: { state: In(['done', 'failed', 'cancelled']), ...(targetId && { targetId }) },
      order: { updatedAt: 'DESC' },
      take: 40,
    });
    return [...active, ...ended].map((job) => this.public(job));
  }
}
