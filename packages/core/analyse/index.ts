export * from './doubled';
export * from './evenness';
export * from './listen';
export * from './loudness';
export * from './pauses';
export * from './peaks';
export { SPEECH_WEIGHTS, weightsOf } from './speechNet';
export * from './latency';
export * from './voiceCheck';
