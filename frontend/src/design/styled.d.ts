import 'styled-components'
import type { Theme } from './theme'

declare module 'styled-components' {
  // styled-components reads its theme's type from this interface.
  // eslint-disable-next-line @typescript-eslint/no-empty-object-type
  export interface DefaultTheme extends Theme {}
}
