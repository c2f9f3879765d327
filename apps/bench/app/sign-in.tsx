export { SignIn as default } from '../src/screens/SignIn'
