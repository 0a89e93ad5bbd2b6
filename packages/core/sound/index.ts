export * from './stereo';
export * from './chain';
export * from './sounding';
export * from './mix';
