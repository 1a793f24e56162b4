/** The nonce that lets libraries add their styles under the strict content policy; the server writes it into the page. */
export const cspNonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;

// Read by the scroll lock of dialogs.
Object.assign(globalThis, { __webpack_nonce__: cspNonce });
