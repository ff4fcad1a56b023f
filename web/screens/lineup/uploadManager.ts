import { nanoid } from '@reduxjs/toolkit';
import { DetailedError, Upload } from 'tus-js-client';
import { useAppDispatch, type AppDispatch } from '../../app/store.ts';
import { uploadBegun, uploadFailed, uploadGone, uploadMoved, uploadRetried } from './uploadsSlice.ts';

const SIDE_BY_SIDE = 3;
const RETRY_DELAYS_MS = [0, 1000, 3000, 5000, 10_000];

/** Sends files up, a few at a time; each goes on where it stopped after a lost connection or a reload. */
export class UploadManager {
  private readonly uploads = new Map<string, Upload>();
  private readonly waiting: string[] = [];
  private readonly sending = new Set<string>();

  constructor(private readonly dispatch: AppDispatch) {}

  add(projectId: string, files: File[]): void {
    for (const file of files) {
      const id = nanoid();
      this.dispatch(uploadBegun({ id, projectId, name: file.name, bytes: file.size }));
      this.uploads.set(id, this.prepare(id, projectId, file));
      this.waiting.push(id);
    }
    this.fill();
  }

  /** Stops an upload and takes what was sent away again. */
  async cancel(id: string): Promise<void> {
    const upload = this.uploads.get(id);
    this.leave(id);
    this.dispatch(uploadGone(id));
    await upload?.abort(true).catch(() => undefined);
  }

  retry(id: string): void {
    this.dispatch(uploadRetried(id));
    this.waiting.push(id);
    this.fill();
  }

  private prepare(id: string, projectId: string, file: File): Upload {
    return new Upload(file, {
      endpoint: '/api/uploads',
      metadata: { filename: file.name, projectId },
      retryDelays: RETRY_DELAYS_MS,
      removeFingerprintOnSuccess: true,
      onProgress: (sentBytes) => this.dispatch(uploadMoved({ id, sentBytes })),
      onSuccess: () => {
        this.leave(id);
        this.dispatch(uploadGone(id));
      },
      onError: (error) => {
        this.sending.delete(id);
        this.dispatch(uploadFailed({ id, error: sentenceFor(file.name, error) }));
        this.fill();
      },
    });
  }

  private fill(): void {
    while (this.sending.size < SIDE_BY_SIDE && this.waiting.length > 0) {
      const id = this.waiting.shift()!;
      const upload = this.uploads.get(id);
      if (!upload) continue;
      this.sending.add(id);
      void upload.findPreviousUploads().then((previous) => {
        if (previous.length > 0) upload.resumeFromPreviousUpload(previous[0]);
        upload.start();
      });
    }
  }

  private leave(id: string): void {
    this.uploads.delete(id);
    this.sending.delete(id);
    const at = this.waiting.indexOf(id);
    if (at >= 0) this.waiting.splice(at, 1);
    this.fill();
  }
}

function sentenceFor(name: string, error: Error): string {
  const status = error instanceof DetailedError ? error.originalResponse?.getStatus() : undefined;
  if (status === 413) return `${name} is larger than this server takes. Bring in a shorter file.`;
  if (status === 507) return `There is no room on the server’s disk for ${name}. Free some and try again.`;
  if (status === undefined) return `The connection was lost while ${name} was on its way. Try again: it goes on where it stopped.`;
  return `${name} did not arrive. Try again.`;
}

let shared: UploadManager | null = null;

/** The page's one manager: uploads go on while the person looks at another screen. */
export function useUploadManager(): UploadManager {
  const dispatch = useAppDispatch();
  shared ??= new UploadManager(dispatch);
  return shared;
}
