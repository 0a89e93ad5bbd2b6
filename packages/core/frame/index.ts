export * from './frames';
export * from './placement';
export * from './layers';
export * from './evaluate';
