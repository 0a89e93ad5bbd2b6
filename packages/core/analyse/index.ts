export * from './peaks';
export * from './pauses';
