const { getDefaultConfig } = require('expo/metro-config')
const { createHash } = require('node:crypto')
const { readFileSync } = require('node:fs')
const { join } = require('node:path')

const config = getDefaultConfig(__dirname)
// Metro keeps what it made of a file, and does not see that a plugin makes something else of it now.
config.cacheVersion = createHash('sha256')
  .update(readFileSync(join(__dirname, 'serverDecides.cjs')))
  .digest('hex')
config.resolver.sourceExts.push('mjs', 'cjs')

/**
 * What packages bring that this application never runs, and a phone would fetch before anything can be done. Each is what one module asks
 * for by name; `npm run bench` says what the page weighs.
 */
const unused = [
  // Zod's messages in some fifty languages (the English ones stay), schemas as JSON Schema, and compiled ones.
  [
    /[\\/]zod[\\/]v4[\\/]/,
    /^\.\.\/locales\/index\.js$|\/(from-json-schema|json-schema|json-schema-processors|json-schema-generator)\.js$|\/compile\.js$/,
  ],
  // Of the router: its page of all pages, and layouts by stacks, tabs and drawers or declared without it; ours are `Slot` alone.
  [
    /[\\/]expo-router[\\/]build[\\/]/,
    /\/(Sitemap|layouts\/(Stack|Tabs|experimental-stack)|stack-utils|react-navigation\/(bottom-tabs|elements|native-stack)|LinkWithPreview|(link\/)?preview\/HrefPreview|NativeTabTrigger|TabRouter|DrawerRouter|[sS]taticNavigation|createStaticNavigation|standard-navigation)$/,
  ],
  // The router brings its own container and links, and exports those of the package that it is made from as well.
  [
    /[\\/]expo-router[\\/]build[\\/](react-navigation[\\/]native[\\/]index|exports)\.js$/,
    /\/(NavigationContainer|ServerContainer|Link|useLinkProps|useLinkTo|useLinkBuilder|useScrollToTop|useRoutePath|createStandardNavigator)$/,
  ],
  // Of our own contract: what server and board ask of each other.
  [/[\\/]contract[\\/]src[\\/]index\.ts$/, /^\.\/benchLink$/],
  // Of the drawings: parsers of transforms for phones of the other kind, and of drawings that come as text.
  [/[\\/]react-native-svg[\\/]/, /^\.\/(transform|transformToRn|xml|utils\/fetchData)$/],
  [
    /[\\/]node_modules[\\/](?!react-native-web[\\/])/,
    /^react-native-web\/dist\/exports\/(Animated|FlatList|SectionList|VirtualizedList|Touchable.+|Modal|Easing)$/,
  ],
]

config.resolver.resolveRequest = (context, name, platform) => {
  if (unused.some(([from, what]) => from.test(context.originModulePath) && what.test(name))) return { type: 'empty' }
  // A package that asks for all of React Native gets what packages of ours use of it: the rest is half of what is there.
  if (
    platform === 'web' &&
    /^react-native(-web(\/dist\/index)?)?$/.test(name) &&
    /[\\/]node_modules[\\/]/.test(context.originModulePath)
  )
    return { type: 'sourceFile', filePath: join(__dirname, 'src/look/reactNative.web.js') }
  if (/[\\/]zod[\\/]v4[\\/]/.test(context.originModulePath) && /\/to-json-schema\.js$/.test(name))
    return { type: 'sourceFile', filePath: join(__dirname, 'src/look/noJsonSchema.js') }
  // Screens of the device's own: the router sets flags of theirs, and a browser has none.
  if (platform === 'web' && /^react-native-screens$|\/createNativeStackNavigator$/.test(name))
    return { type: 'sourceFile', filePath: join(__dirname, 'src/look/noScreens.web.js') }
  // Three versions of one module would be fetched.
  if (/^@react-native\/normalize-colors?$/.test(name))
    return context.resolveRequest({ ...context, originModulePath: __filename }, '@react-native/normalize-colors', platform)
  // Nobody here sets the head of the page by components.
  if (/\/vendor\/react-helmet-async\/lib$/.test(name))
    return { type: 'sourceFile', filePath: join(__dirname, 'src/look/noHead.js') }
  const found = context.resolveRequest(context, name, platform)
  // Redux Toolkit gives Metro what it made for browsers of ten years ago.
  return found.type === 'sourceFile' ? { ...found, filePath: found.filePath.replace(/\.legacy-esm\.js$/, '.modern.mjs') } : found
}

module.exports = config
