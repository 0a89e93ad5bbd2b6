export * from './captionFile';
