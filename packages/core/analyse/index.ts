export * from './peaks';
export * from './pauses';
export * from './loudness';
