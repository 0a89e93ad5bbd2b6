export * from './flicks';
export * from './rate';
export * from './timecode';
