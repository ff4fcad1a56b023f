const ENDINGS = new Set([
  'wav',
  'wave',
  'bwf',
  'rf64',
  'bw64',
  'aif',
  'aiff',
  'aifc',
  'caf',
  'flac',
  'm4a',
  'm4b',
  'mp3',
  'mp2',
  'aac',
  'ogg',
  'oga',
  'opus',
  'mp4',
  'm4v',
  'mov',
  'qt',
  'mkv',
  'mka',
  'webm',
  'mxf',
  'avi',
  'ts',
  'mts',
  'm2ts',
  'mpg',
  'mpeg',
]);

/** Whether a file found in a folder is meant to be a recording, by its name: cards also hold pictures, lists and notes. */
export function looksLikeRecording(fileName: string): boolean {
  const dot = fileName.lastIndexOf('.');
  return dot > 0 && ENDINGS.has(fileName.slice(dot + 1).toLowerCase());
}
