export * from './stereo';
export * from './chain';
export * from './sounding';
export * from './gain';
export * from './limiter';
export * from './truePeak';
export * from './mix';
