// Passkeys: a device signs in with a key of its own. The buttons show only where the browser can;
// everybody else has their password.
import { t } from "./words.js";

const bytes = (text) => Uint8Array.from(atob(text.replaceAll("-", "+").replaceAll("_", "/")), (c) => c.charCodeAt(0));
const text = (buffer) => btoa(String.fromCharCode(...new Uint8Array(buffer))).replaceAll("+", "-").replaceAll("/", "_").replaceAll("=", "");
const known = (list) => list?.map((c) => ({ ...c, id: bytes(c.id) }));

// made and signed are what a device answers, as the server reads it.
export const made = (c) => ({ id: c.id, rawId: text(c.rawId), type: c.type,
  response: { clientDataJSON: text(c.response.clientDataJSON), attestationObject: text(c.response.attestationObject), transports: c.response.getTransports?.() ?? [] } });
export const signed = (c) => ({ id: c.id, rawId: text(c.rawId), type: c.type,
  response: { clientDataJSON: text(c.response.clientDataJSON), authenticatorData: text(c.response.authenticatorData), signature: text(c.response.signature),
    userHandle: c.response.userHandle && text(c.response.userHandle) } });

// asked is what the server asks, as a browser takes it.
export const asked = (key) => ({ ...key, challenge: bytes(key.challenge), ...(key.user && { user: { ...key.user, id: bytes(key.user.id) } }),
  ...(key.excludeCredentials && { excludeCredentials: known(key.excludeCredentials) }), ...(key.allowCredentials && { allowCredentials: known(key.allowCredentials) }) });

const post = async (path, body) => {
  const answer = await fetch(path, { method: "POST", headers: { "Content-Type": "application/json", Accept: "application/json" }, body: body && JSON.stringify(body) });
  const got = await answer.json().catch(() => ({}));
  if (!answer.ok) throw new Error(got.error ?? t('The server does not answer. Try again in a moment.'));
  return got;
};

// on asks when its button is pressed, says what went wrong, and lets go of who thought better of it.
const on = (box, ask) => {
  const button = box.querySelector("button"), says = box.querySelector("[data-passkey-says]");
  box.hidden = false;
  button.addEventListener("click", async () => {
    button.disabled = true;
    says.textContent = "";
    try {
      await ask();
    } catch (e) {
      says.textContent = e instanceof DOMException ? (e.name === "InvalidStateError" ? t('This device has a passkey here already.') : t('Nothing was signed. Try again, or use your password.')) : e.message;
    }
    button.disabled = false;
  });
};

export const start = () => {
  if (!window.PublicKeyCredential) return;
  const make = document.querySelector("[data-passkey-make]"), enter = document.querySelector("[data-passkey-enter]");
  if (make) on(make, async () => {
    const { publicKey } = await post("/household/passkeys/ask");
    const answer = made(await navigator.credentials.create({ publicKey: asked(publicKey) }));
    await post(`/household/passkeys?name=${encodeURIComponent(make.querySelector("input").value)}`, answer);
    location.reload();
  });
  if (enter) on(enter, async () => {
    const { publicKey } = await post("/sign-in/passkey/ask");
    const answer = signed(await navigator.credentials.get({ publicKey: asked(publicKey) }));
    const { to } = await post(`/sign-in/passkey?back=${encodeURIComponent(enter.dataset.passkeyEnter)}`, answer);
    location.assign(to);
  });
};
