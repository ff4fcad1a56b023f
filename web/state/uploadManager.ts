import { defaultOptions, DetailedError, Upload } from 'tus-js-client';
import * as z from 'zod';
import { inBackground } from '../parts/inBackground.ts';
import { SpacedTasks } from './spacedTasks.ts';
import type { AppDispatch } from './store.ts';
import { interruptedFound, uploadFailed, uploadGone, uploadIs, uploadsAdded, uploadsWentOn } from './uploadsSlice.ts';

// A browser opens six connections to a server: one is for events, one for everything else.
const SIDE_BY_SIDE = 4;
// Up to here a file goes up in the request that announces it: it is soon sent again.
const SMALL_BYTES = 1_000_000;
const TOLD_EVERY_MS = 500;
const TAKEN_AT_ONCE = 50;
// Long enough for the server to be started again.
const RETRY_DELAYS_MS = [0, 1000, 2000, 3000, 5000, 5000, 10_000, 10_000, 20_000, 30_000, 60_000];

/** Sent in a moment: it has no line of its own in the list, and nothing of it is remembered for later. */
export function isSmall(bytes: number): boolean {
  return bytes <= SMALL_BYTES;
}

/** A file with the folder that it was chosen or dropped in. */
export interface Incoming {
  file: File;
  folder: string;
}

/** Sends files up, a few at a time; each goes on where it stopped after a lost connection, a reload or a restart of the server. */
export class UploadManager {
  private readonly uploads = new Map<string, Upload>();
  /** What is to be sent, made ready when its turn comes. */
  private readonly waiting: string[] = [];
  private readonly incoming = new Map<string, () => Upload>();
  private readonly sending = new Set<string>();
  private readonly tasks = new SpacedTasks();
  /** What has happened since the page was last told. */
  private news: Parameters<typeof uploadsWentOn>[0] = { sending: [], sentBytes: {}, arrived: [] };
  private telling: ReturnType<typeof setTimeout> | undefined;
  /** What failed because the line was dead for too long. */
  private readonly cutOff = new Set<string>();

  constructor(private readonly dispatch: AppDispatch) {
    inBackground(this.findInterrupted());
    window.addEventListener('online', () => [...this.cutOff].forEach((id) => this.resume(id)));
  }

  /** Hundreds are taken in a few at a time: a browser asks the disk about each. */
  add(projectId: string, incoming: Incoming[]): void {
    const chosenAt = new Date().toISOString();
    const slices = Array.from({ length: Math.ceil(incoming.length / TAKEN_AT_ONCE) }, (_, i) =>
      incoming.slice(i * TAKEN_AT_ONCE, (i + 1) * TAKEN_AT_ONCE),
    );
    this.tasks.add(...slices.map((slice) => () => this.take(projectId, slice, chosenAt)));
  }

  private take(projectId: string, incoming: Incoming[], chosenAt: string): void {
    const entries = incoming.map(({ file, folder }) => {
      const id = crypto.randomUUID();
      this.incoming.set(id, () => this.prepare(id, file, { id, filename: file.name, projectId, folder, chosenAt }));
      this.waiting.push(id);
      return { id, projectId, name: file.name, bytes: file.size };
    });
    this.dispatch(uploadsAdded(entries));
    this.fill();
  }

  /** Stops an upload and takes what was sent away again. */
  async cancel(id: string): Promise<void> {
    const upload = this.uploads.get(id);
    this.leave(id);
    this.dispatch(uploadGone(id));
    await upload?.abort(true).catch(() => undefined);
  }

  async pause(id: string): Promise<void> {
    this.unqueue(id);
    this.dispatch(uploadIs({ id, is: 'paused' }));
    await this.uploads.get(id)?.abort();
    this.fill();
  }

  /** Goes on after a pause or a failure. */
  resume(id: string): void {
    this.cutOff.delete(id);
    this.dispatch(uploadIs({ id, is: 'waiting' }));
    this.waiting.push(id);
    this.fill();
  }

  /** Uploads of an earlier visit, from what the browser remembers of them. */
  async findInterrupted(): Promise<void> {
    const running = new Set([...this.uploads.values()].map(({ url }) => url));
    const found = await defaultOptions.urlStorage.findAllUploads();
    this.dispatch(
      interruptedFound(
        found.flatMap(({ urlStorageKey, uploadUrl, size, metadata }) => {
          const known = Remembered.safeParse(metadata);
          return known.success && !running.has(uploadUrl ?? '')
            ? [{ key: urlStorageKey, projectId: known.data.projectId, name: known.data.filename, bytes: size ?? 0 }]
            : [];
        }),
      ),
    );
  }

  /** Lets go of what the browser remembers of an interrupted upload. */
  async forget(key: string): Promise<void> {
    await defaultOptions.urlStorage.removeUpload(key);
    await this.findInterrupted();
  }

  private prepare(id: string, file: File, metadata: Record<string, string>): Upload {
    return new Upload(file, {
      endpoint: '/api/uploads',
      metadata,
      retryDelays: RETRY_DELAYS_MS,
      removeFingerprintOnSuccess: true,
      onShouldRetry: (error) => mayPass(statusOf(error)),
      uploadDataDuringCreation: isSmall(file.size),
      storeFingerprintForResuming: !isSmall(file.size),
      onProgress: (sentBytes) =>
        this.tell(({ sentBytes: all }) => {
          all[id] = sentBytes;
        }),
      onSuccess: () => {
        this.tell(({ arrived }) => {
          arrived.push(id);
        });
        this.leave(id);
      },
      onError: (error) => {
        this.sending.delete(id);
        if (statusOf(error) === null) this.cutOff.add(id);
        this.dispatch(uploadFailed({ id, error: sentenceFor(file.name, error) }));
        this.fill();
      },
    });
  }

  private fill(): void {
    while (this.sending.size < SIDE_BY_SIDE && this.waiting.length > 0) {
      const id = this.waiting.shift()!;
      const upload = this.uploads.get(id) ?? this.incoming.get(id)?.();
      if (!upload) continue;
      this.uploads.set(id, upload);
      this.incoming.delete(id);
      this.sending.add(id);
      this.tell(({ sending }) => {
        sending.push(id);
      });
      if (!upload.options.storeFingerprintForResuming) {
        upload.start();
        continue;
      }
      inBackground(
        upload.findPreviousUploads().then((previous) => {
          const sameProject = previous.find(
            ({ metadata }) => metadata.projectId === upload.options.metadata?.projectId,
          );
          if (sameProject) upload.resumeFromPreviousUpload(sameProject);
          if (this.sending.has(id)) upload.start();
          if (sameProject) inBackground(this.findInterrupted());
        }),
      );
    }
  }

  private leave(id: string): void {
    this.uploads.delete(id);
    this.incoming.delete(id);
    this.unqueue(id);
    this.fill();
  }

  /** Notes what happened; the page is told of all of it together. */
  private tell(note: (news: Parameters<typeof uploadsWentOn>[0]) => void): void {
    note(this.news);
    this.telling ??= setTimeout(() => {
      this.telling = undefined;
      const news = this.news;
      this.news = { sending: [], sentBytes: {}, arrived: [] };
      this.dispatch(uploadsWentOn({ ...news, sending: news.sending.filter((id) => this.sending.has(id)) }));
    }, TOLD_EVERY_MS);
  }

  private unqueue(id: string): void {
    this.sending.delete(id);
    this.cutOff.delete(id);
    const at = this.waiting.indexOf(id);
    if (at >= 0) this.waiting.splice(at, 1);
  }
}

const Remembered = z.object({ filename: z.string(), projectId: z.string() });

/** Of the server's answer; null where there was none. */
function statusOf(error: Error): number | null {
  return error instanceof DetailedError ? (error.originalResponse?.getStatus() ?? null) : null;
}

/** Whether the same may go well in a moment: the line is dead, the server is being started, or still holds the upload. A full disk stays full. */
function mayPass(status: number | null): boolean {
  return status === null || status === 409 || status === 423 || (status >= 500 && status !== 507);
}

function sentenceFor(name: string, error: Error): string {
  const status = statusOf(error);
  if (status === 413) return `${name} is larger than this server takes. Bring in a shorter file.`;
  if (status === 507) return `There is no room on the server’s disk for ${name}. Free some and try again.`;
  if (status === 404) return `The project of ${name} is gone. Choose another one and bring it in there.`;
  if (status === null)
    return `The connection was lost while ${name} was on its way. Try again: it goes on where it stopped.`;
  return `${name} did not arrive. Try again.`;
}
