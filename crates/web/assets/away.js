// When the kitchen's machine cannot be reached: no old answer beside a new sentence, no old temperature without
// its age, and no tap lost. No rule and no computation of heat or safety is here.
"use strict";
(() => {
  const byId = (id) => document.getElementById(id);
  const WITHIN_MS = 4000;
  // By the kitchen's clock, wherever the reader's device thinks it is.
  const clock = (ms) => new Intl.DateTimeFormat("en-GB", { timeStyle: "medium", timeZone: document.body.dataset.zone || undefined }).format(ms);
  const say = (tag, className, text) => {
    const el = document.createElement(tag);
    el.className = className;
    el.textContent = text;
    return el;
  };

  // --- the plan: an answer that is not that of the sentence looks like it ---
  const sentence = () => byId("sentence");
  const typed = () => new URLSearchParams([...new FormData(sentence())].filter(([, v]) => typeof v === "string")).toString();
  // What the answer on the page was given for.
  let answered = null;
  let attempt = 0;
  let again = null;
  const followers = () => [byId("answer"), byId("prep-says")].filter(Boolean);
  const mark = () => {
    if (!sentence() || answered === null) return;
    const stale = typed() !== answered;
    for (const el of followers()) {
      el.classList.toggle("is-stale", stale);
      el.setAttribute("aria-busy", String(stale));
    }
    for (const button of document.querySelectorAll("#answer .start button")) button.disabled = stale;
    // What is kept or taken along is that of the answer too.
    const keep = byId("keep");
    if (keep) keep.inert = stale;
  };
  const settled = () => {
    if (!sentence()) return;
    clearTimeout(again);
    attempt = 0;
    byId("lost-answer")?.remove();
    byId("prep-says")?.classList.remove("is-lost");
    answered = typed();
    mark();
  };
  const WHY = {
    send: "The kitchen’s machine cannot be reached.",
    slow: "The kitchen’s machine has not answered for four seconds.",
    busy: "The kitchen’s machine is busy.",
    fail: "Something failed on the kitchen’s machine.",
  };
  const lost = (why) => {
    const answer = byId("answer");
    if (!answer || !sentence()) return;
    // Times and verdict go: they are not those of what is typed.
    answer.replaceChildren();
    byId("prep-says")?.classList.add("is-lost");
    attempt += 1;
    const wait = Math.min(2 * attempt, 10);
    const note = say("div", "note note-warn", "");
    note.id = "lost-answer";
    note.setAttribute("role", "alert");
    note.append(say("strong", "", "No answer yet. "), `${WHY[why]} What you typed is kept; it is asked again every few seconds.`);
    answer.append(note);
    answered = "";
    mark();
    answer.classList.remove("is-stale");
    clearTimeout(again);
    again = setTimeout(() => sentence()?.dispatchEvent(new Event("change", { bubbles: true })), wait * 1000);
  };

  // --- the cook's clocks: how old the last word is ---
  let heardAt = performance.now();
  const OLD_MS = 25_000;
  const heard = () => {
    heardAt = performance.now();
    byId("live-away")?.remove();
    byId("live")?.classList.remove("is-old");
  };
  let unheard = false;
  const age = () => {
    const live = byId("live");
    if (!live?.hasAttribute("hx-get")) return;
    const ms = performance.now() - heardAt;
    if (!unheard && ms < OLD_MS) return;
    let note = byId("live-away");
    if (!note) {
      note = say("p", "note note-warn", "");
      note.id = "live-away";
      note.setAttribute("role", "alert");
      live.before(note);
      live.classList.add("is-old");
    }
    const s = Math.round(ms / 1000);
    const ago = s < 120 ? `${s} s` : `${Math.floor(s / 60)} min`;
    const text = `No word from the kitchen’s machine for ${ago}. Temperature and verdict are those of ${clock(globalThis.steady.now() - ms * globalThis.steady.rate())}; the countdown goes on from the forecast of then.`;
    if (note.textContent !== text) note.textContent = text;
  };

  const failed = (e, why) => {
    const id = e.detail.elt?.id;
    if (id === "sentence") lost(why);
    if (id === "live") { unheard = true; age(); }
  };
  document.addEventListener("htmx:sendError", (e) => failed(e, "send"));
  document.addEventListener("htmx:timeout", (e) => failed(e, "slow"));
  document.addEventListener("htmx:responseError", (e) => failed(e, e.detail.xhr.status === 503 ? "busy" : "fail"));
  document.addEventListener("htmx:afterSettle", (e) => {
    if (e.target.id === "answer") settled();
    if (e.target.id === "live") { unheard = false; heard(); }
  });
  for (const kind of ["input", "change"]) {
    document.addEventListener(kind, (e) => {
      if (e.target.form === sentence() || e.target === sentence()) mark();
    });
  }

  // --- taps: sent once, kept until they are ---
  const KEY = "hold-steady-waiting";
  const waiting = () => { try { return JSON.parse(localStorage.getItem(KEY)) ?? []; } catch { return []; } };
  const keep = (list) => {
    if (list.length) localStorage.setItem(KEY, JSON.stringify(list));
    else localStorage.removeItem(KEY);
    showWaiting();
  };
  const box = (id) => {
    let el = byId(id);
    if (!el) {
      el = say("div", "note note-warn", "");
      el.id = id;
      el.setAttribute("role", "status");
      byId("main").prepend(el);
    }
    return el;
  };
  const showWaiting = () => {
    const list = waiting();
    if (!list.length) return byId("waiting")?.remove();
    const el = box("waiting");
    el.replaceChildren();
    for (const tap of list) {
      const line = say("p", "", `${tap.why} “${tap.label}”, tapped at ${clock(tap.at)}, waits here and is sent as soon as it can be. `);
      const drop = say("button", "btn btn-sm btn-outline-secondary", "Do not send it");
      drop.type = "button";
      drop.addEventListener("click", () => keep(waiting().filter((t) => t.id !== tap.id)));
      line.append(drop);
      el.append(line);
    }
  };
  const post = (url, body) => fetch(url, { method: "POST", body, credentials: "same-origin", signal: AbortSignal.timeout(body instanceof FormData ? 60_000 : WITHIN_MS) });
  const pageOf = async (response) => new DOMParser().parseFromString(await response.text(), "text/html");
  // What the page becomes after an answer: where it leads, or what it says here.
  const goOn = async (response, tap) => {
    const to = new URL(response.url);
    const stays = to.pathname === location.pathname && to.search === location.search;
    if (response.redirected && !(stays && tap)) {
      if (!stays) return location.assign(to);
      if (to.hash) history.replaceState(null, "", to);
      return location.reload();
    }
    // After a tap the same page as it is now, or a form handed back with what is wrong: put in place, without
    // asking twice.
    const page = await pageOf(response);
    const main = page.querySelector("main") ?? page.querySelector("body");
    byId("main").replaceChildren(...main.childNodes);
    const strip = page.querySelector("#next-strip");
    if (strip) byId("next-strip").replaceWith(strip);
    document.title = page.title;
    htmx.process(byId("main"));
    if (to.hash) byId(to.hash.slice(1))?.scrollIntoView();
    else scrollTo(0, 0);
    globalThis.steady.ready();
    heard();
    if (sentence()) settled();
    showWaiting();
  };
  const refusedIn = async (response) => {
    const page = await pageOf(response);
    return (page.querySelector("#problem") ?? page.querySelector("main p"))?.textContent.trim() ?? "";
  };
  let flushing = false;
  const flush = async () => {
    if (flushing || !waiting().length) return;
    flushing = true;
    try {
      // In the order they were tapped: a pull follows its drop.
      for (let tap = waiting()[0]; tap; tap = waiting()[0]) {
        const body = new URLSearchParams(tap.body);
        // How long ago, by this device: the machine's own clock may have been set meanwhile.
        body.set("tapped_ago", String(Math.max(0, (Date.now() - tap.device) / 1000) * globalThis.steady.rate()));
        const response = await post(tap.action, body);
        if (response.status >= 500) break;
        keep(waiting().filter((t) => t.id !== tap.id));
        if (response.ok) {
          if (location.pathname === new URL(tap.page, location.origin).pathname && !waiting().length) await goOn(response, true);
        } else {
          box("refused-tap").append(say("p", "", `“${tap.label}”, tapped at ${clock(tap.at)}, could not be taken: ${await refusedIn(response)}`));
        }
      }
    } catch {
      // Still away: tried again soon.
    } finally {
      flushing = false;
    }
  };
  const queue = (form, body, label, why) => {
    const [id, at] = [body.get("tap"), globalThis.steady.now()];
    // Tapped again while it waits, it is the same tap: the first stands.
    if (waiting().some((t) => t.id === id)) return;
    keep([...waiting(), { id, action: form.action, page: location.pathname, body: body.toString(), label, at, device: Date.now(), why }]);
  };
  // The form's own identifier is that of the first tap in it. Another one from the same page (another button, another
  // time) is another tap; the same again is the same.
  const named = new WeakMap();
  const tapId = (form, body) => {
    const ids = named.get(form) ?? new Map();
    named.set(form, ids);
    const said = body.toString();
    if (!ids.has(said)) ids.set(said, ids.size === 0 ? body.get("tap") : newId());
    return ids.get(said);
  };
  // Time-ordered, as the server's; `crypto.randomUUID` is not there on a plain address of the network.
  const newId = () => {
    const bytes = crypto.getRandomValues(new Uint8Array(16));
    let ms = Math.floor(globalThis.steady.now());
    for (let i = 5; i >= 0; i -= 1) { bytes[i] = ms % 256; ms = Math.floor(ms / 256); }
    bytes[6] = 0x70 | (bytes[6] & 0x0f);
    bytes[8] = 0x80 | (bytes[8] & 0x3f);
    return [...bytes].map((b) => b.toString(16).padStart(2, "0")).join("").replace(/^(.{8})(.{4})(.{4})(.{4})/, "$1-$2-$3-$4-");
  };
  // While one is on its way, the same form sends no second, and another form waits for it: a pull follows its drop.
  const sending = new WeakSet();
  let line = Promise.resolve();
  document.addEventListener("submit", async (e) => {
    const form = e.target;
    if (form.method !== "post" || e.defaultPrevented) return;
    e.preventDefault();
    if (sending.has(form)) return;
    sending.add(form);
    form.setAttribute("aria-busy", "true");
    const data = new FormData(form, e.submitter);
    const file = form.enctype === "multipart/form-data";
    const body = file ? data : new URLSearchParams([...data]);
    const label = (e.submitter?.getAttribute("aria-label") ?? e.submitter?.textContent ?? form.getAttribute("aria-label") ?? "").trim();
    const tap = "tap" in form.dataset;
    if (tap) body.set("tap", tapId(form, body));
    const notSent = (why) => {
      if (tap) queue(form, body, label, why);
      else box("not-sent").textContent = `${why} Nothing you typed is lost: try “${label}” again.`;
      byId("waiting")?.scrollIntoView({ block: "nearest" });
    };
    const before = line;
    let done;
    line = new Promise((resolve) => { done = resolve; });
    try {
      await before;
      // What waits was tapped before.
      if (tap) await flush();
      if (tap && waiting().length) return notSent("Others wait before it.");
      const response = await post(form.action, body);
      if (response.status >= 500) notSent((await refusedIn(response)) || "It was not written down.");
      else await goOn(response, tap);
    } catch (problem) {
      notSent(problem.name === "TimeoutError" ? WHY.slow : WHY.send);
    } finally {
      done();
      sending.delete(form);
      form.removeAttribute("aria-busy");
    }
  });

  document.addEventListener("DOMContentLoaded", () => {
    if (sentence()) answered = typed();
    heard();
    showWaiting();
    flush();
    setInterval(flush, 3000);
    setInterval(age, 500);
  });
  addEventListener("online", flush);
  addEventListener("storage", (e) => { if (e.key === KEY) showWaiting(); });
})();
