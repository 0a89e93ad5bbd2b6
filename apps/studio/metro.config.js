const { getDefaultConfig } = require('expo/metro-config');
const { withNativeWind } = require('nativewind/metro');

const config = getDefaultConfig(__dirname);
config.resolver.assetExts.push('wasm');
// A module is run when it is first wanted, which the first page is waiting for; only where the page's script lies is asked at once.
const atOnce = { [require.resolve('expo/src/winter/ImportMetaRegistry.ts')]: true };
config.transformer.getTransformOptions = async () => ({ transform: { inlineRequires: { blockList: atOnce } } });
// Terser took a third of the time of a build.
config.transformer.minifierPath = require.resolve('./minify.cjs');
// The names that Metro gives each module's parameters are made short by the minifier as well; doing it before took a sixth of the rest.
config.transformer.unstable_disableNormalizePseudoGlobals = true;
const resolve = config.resolver.resolveRequest;
config.resolver.resolveRequest = (context, name, platform) => {
  // Zod's error texts in forty languages are never shown: 300 kB less.
  if (/zod/.test(context.originModulePath) && /locales\/index\.(c?js)$/.test(name)) return { type: 'empty' };
  // Of the helpers that pdf-lib asks for Metro takes a module that does not fit it.
  if (name === 'tslib' && /pdf-lib/.test(context.originModulePath))
    return {
      type: 'sourceFile',
      filePath: require.resolve('tslib', { paths: [context.originModulePath] }).replace(/tslib\.js$/, 'tslib.es6.js'),
    };
  return (resolve ?? context.resolveRequest)(context, name, platform);
};

module.exports = withNativeWind(config, { input: './global.css', inlineRem: 16 });
