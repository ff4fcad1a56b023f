// What may be decoded. Every decoder is code that hostile bytes reach: of FFmpeg's hundreds these are what cameras, recorders and editors write.

const PCM = [
  ...['s16', 's24', 's32', 's64', 'u16', 'u24', 'u32', 'f32', 'f64'].flatMap((type) => [
    `pcm_${type}le`,
    `pcm_${type}be`,
  ]),
  'pcm_s8',
  'pcm_u8',
  'pcm_s8_planar',
  'pcm_s16le_planar',
  'pcm_s16be_planar',
  'pcm_s24le_planar',
  'pcm_s32le_planar',
  'pcm_alaw',
  'pcm_mulaw',
  'pcm_bluray',
  'pcm_dvd',
  'pcm_s24daud',
];

/** By the names of codecs. */
export const SOUND_CODECS: ReadonlySet<string> = new Set([
  ...PCM,
  'flac',
  'alac',
  'wavpack',
  'aac',
  'aac_latm',
  'mp1',
  'mp2',
  'mp3',
  'ac3',
  'eac3',
  'dts',
  'truehd',
  'opus',
  'vorbis',
  'speex',
  's302m',
  'dvaudio',
  'adpcm_ima_qt',
  'adpcm_ima_wav',
  'adpcm_ms',
  'gsm',
  'gsm_ms',
  'wmav1',
  'wmav2',
  'amr_nb',
  'amr_wb',
]);

// Decoders that go by another name than their codec.
const SOUND_DECODERS = [
  ...SOUND_CODECS,
  'mp1float',
  'mp2float',
  'mp3float',
  'dca',
  'libopus',
  'libvorbis',
  'libspeex',
  'amrnb',
  'amrwb',
];

const PICTURE_DECODERS = [
  'h264',
  'hevc',
  'mpeg4',
  'mpeg2video',
  'mpeg1video',
  'mjpeg',
  'prores',
  'dnxhd',
  'cfhd',
  'dvvideo',
  'rawvideo',
  'v210',
  'png',
  'ffv1',
  'qtrle',
  'theora',
  'vp8',
  'vp9',
  'libvpx-vp9',
  'av1',
  'libdav1d',
];

/** FFmpeg's list of decoders it may open. */
export const DECODERS = [...SOUND_DECODERS, ...PICTURE_DECODERS].join(',');
