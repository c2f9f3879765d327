const { getDefaultConfig } = require('expo/metro-config')

const config = getDefaultConfig(__dirname)
config.resolver.sourceExts.push('mjs', 'cjs')

// Zod's messages in some fifty languages are a tenth of what a phone would fetch; only the English ones are used.
config.resolver.resolveRequest = (context, name, platform) =>
  /[\\/]zod[\\/]v4[\\/]/.test(context.originModulePath) && name === '../locales/index.js'
    ? { type: 'empty' }
    : context.resolveRequest(context, name, platform)

module.exports = config
