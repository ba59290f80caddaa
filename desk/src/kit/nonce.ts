// styled-components marks its style element with this nonce; the server allows styles with it only.
const mark = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;
if (mark && mark !== "__NONCE__") (window as unknown as { __webpack_nonce__: string }).__webpack_nonce__ = mark;
