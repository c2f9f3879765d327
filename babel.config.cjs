// For tests only; the application is built with its own. Jest runs what is imported later like what is imported at once.
module.exports = (api) => {
  api.cache(true)
  return { presets: ['babel-preset-expo'], plugins: ['@babel/plugin-transform-dynamic-import'] }
}
