import { createGlobalStyle } from 'styled-components'

export const GlobalStyle = createGlobalStyle`
  *, *::before, *::after { box-sizing: border-box; margin: 0; }
  html { color-scheme: ${(p) => p.theme.name}; }
  body {
    background: ${(p) => p.theme.colour.floor};
    color: ${(p) => p.theme.colour.ink};
    font: 15px/1.4 ${(p) => p.theme.type.text};
    overflow-y: scroll;
  }
  button, input, select, textarea { font: inherit; color: inherit; }
  a { color: ${(p) => p.theme.colour.focus}; }
  h1 { font-size: 20px; font-weight: 650; line-height: 1.25; }
  h2 { font-size: 16px; font-weight: 650; }
  h3, h2.small { font-size: 14px; font-weight: 650; color: ${(p) => p.theme.colour.muted}; }
  :focus-visible, [data-focus-visible] { outline: 3px solid ${(p) => p.theme.colour.focus}; outline-offset: 2px; }
  .num { font-family: ${(p) => p.theme.type.mono}; font-variant-numeric: tabular-nums; }
  .hidden-text {
    position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); white-space: nowrap;
  }
  @media (prefers-reduced-motion: reduce) { * { transition: none !important; animation: none !important; } }
`
