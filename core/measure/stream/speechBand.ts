/** Where speech and most music have their energy. */
export const SPEECH_BAND_HZ = { low: 150, high: 5000 };
