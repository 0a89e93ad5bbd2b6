const { getDefaultConfig } = require('expo/metro-config');
const { withNativeWind } = require('nativewind/metro');

const config = getDefaultConfig(__dirname);
config.resolver.assetExts.push('wasm');
const resolve = config.resolver.resolveRequest;
config.resolver.resolveRequest = (context, name, platform) => {
  // Zod's error texts in forty languages are never shown: 300 kB less.
  if (/zod/.test(context.originModulePath) && /locales\/index\.(c?js)$/.test(name)) return { type: 'empty' };
  return (resolve ?? context.resolveRequest)(context, name, platform);
};

module.exports = withNativeWind(config, { input: './global.css', inlineRem: 16 });
