const path = require('node:path');
const { getDefaultConfig } = require('expo/metro-config');
const withSmallPages = require('../ui/metro-pages.js');

const leanNative = path.join(__dirname, 'lean-native.js');
const unusedRouter = path.join(__dirname, 'unused-router.js');

const inRouter = /node_modules[\\/]expo-router[\\/]build[\\/]/;
const unused =
  /^(\.\/layouts\/(Stack|Tabs)|\.\/views\/ErrorBoundary|\.\/Toast|\.\.\/fork\/native-stack\/createNativeStackNavigator|\.\/stack-utils|@react-navigation\/bottom-tabs|react-native-screens)$/;

function withLeanRouter(config) {
  const before = config.resolver.resolveRequest;
  config.resolver.resolveRequest = (context, name, platform) => {
    if (inRouter.test(context.originModulePath)) {
      if (name === 'react-native-web/dist/index') return { type: 'sourceFile', filePath: leanNative };
      if (unused.test(name)) return { type: 'sourceFile', filePath: unusedRouter };
    }
    return before(context, name, platform);
  };
  return config;
}

/**
 * The chunks that come before the desk is shown. What only later ones share lies in a chunk of its own, which comes
 * with the first of them (patches/@expo+metro-config).
 */
function withLaterChunk(config) {
  config.serializer.firstChunks = /app[\\/]src[\\/]desk[\\/]DeskScreen\.tsx$/;
  return config;
}

module.exports = withLaterChunk(withLeanRouter(withSmallPages(getDefaultConfig(__dirname))));
