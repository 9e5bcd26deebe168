import styled from 'styled-components'

/** A form alone in the middle of the page. */
export const Middle = styled.main`
  min-height: 100vh;
  display: grid;
  place-items: center;
  form {
    width: min(380px, 92vw);
    padding: 26px 28px;
  }
  p {
    color: ${(p) => p.theme.colour.muted};
  }
`
