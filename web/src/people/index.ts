/** Who is at the bench. */
export { SignIn } from './SignIn'
export { WhoMenu } from './WhoMenu'
export { PeoplePage } from './PeoplePage'
