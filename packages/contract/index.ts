export * from './text';
export * from './problems';
export * from './media';
export * from './pieces';
export * from './deliveries';
export * from './events';
export * from './storage';
export * from './routes';
