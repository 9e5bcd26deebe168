import { createContext } from 'react'

export type ThemeName = 'light' | 'dark'

export const ThemeChoice = createContext<{ name: ThemeName; choose: (name: ThemeName) => void }>({
  name: 'light',
  choose: () => undefined,
})
