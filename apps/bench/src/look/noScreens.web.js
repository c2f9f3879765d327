// What the router asks for of a device's own screens: a browser has none, and ours are drawn by `Slot`.
export const featureFlags = { experiment: {} }
export const createNativeStackNavigator = () => ({ Navigator: () => null })
