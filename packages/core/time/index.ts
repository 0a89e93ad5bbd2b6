export * from './flicks';
export * from './rate';
export * from './timecode';
export * from './search';
