export * from './frames';
export * from './placement';
export * from './evaluate';
