import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { ServerEvent } from '@pocket-twin/core/schema/changes.ts';
import type { Writing } from '@pocket-twin/core/schema/writing.ts';
import { progressed, progressEnded } from '../app/progressSlice.ts';
import type { AppDispatch } from '../app/store.ts';
import { api } from './api.ts';

/** Keeps the cache fresh from the server's events. After a lost connection everything is asked again. */
export function followServer(dispatch: AppDispatch): () => void {
  const source = new EventSource('/api/events');
  let lost = false;
  source.onopen = () => {
    if (lost) dispatch(api.util.invalidateTags(['Project', 'Clip', 'Writing']));
    lost = false;
  };
  source.onerror = () => { lost = true; };
  source.onmessage = ({ data }: MessageEvent<string>) => {
    const event = ServerEvent.safeParse(JSON.parse(data));
    if (event.success) take(event.data, dispatch);
  };
  return () => source.close();
}

function take(event: ServerEvent, dispatch: AppDispatch): void {
  switch (event.kind) {
    case 'clip': return takeClip(event.clip, dispatch);
    case 'clip-removed':
      dispatch(api.util.updateQueryData('listClips', event.projectId, (clips) => clips.filter((clip) => clip.id !== event.id)));
      dispatch(api.util.invalidateTags(['Project']));
      return;
    case 'writing': return takeWriting(event.writing, dispatch);
    case 'progress': dispatch(progressed(event));
  }
}

function takeClip(clip: Clip, dispatch: AppDispatch): void {
  dispatch(api.util.updateQueryData('listClips', clip.projectId, (clips) => replace(clips, clip, 'end')));
  if (clip.state === 'ready' || clip.state === 'failed') {
    dispatch(progressEnded(clip.id));
    dispatch(api.util.invalidateTags(['Project']));
  }
}

function takeWriting(writing: Writing, dispatch: AppDispatch): void {
  dispatch(api.util.updateQueryData('listWritings', writing.clipId, (writings) => replace(writings, writing, 'start')));
  if (writing.state !== 'writing') dispatch(progressEnded(writing.id));
}

function replace<Item extends { id: string }>(items: Item[], item: Item, newAt: 'start' | 'end'): void {
  const at = items.findIndex(({ id }) => id === item.id);
  if (at >= 0) items[at] = item;
  else if (newAt === 'end') items.push(item);
  else items.unshift(item);
}
