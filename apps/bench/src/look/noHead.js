// What the router asks of a head that components write: nothing does.
export const HelmetProvider = ({ children }) => children
export const Helmet = () => null
