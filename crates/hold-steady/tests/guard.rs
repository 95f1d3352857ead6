//! What keeps other sites out.

mod common;

use common::{COOK, Server};

#[test]
fn every_answer_forbids_foreign_and_inline_code() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    for path in ["/plan", "/cook", "/book", "/nowhere", "/assets/steady.js"] {
        let page = server.get(path);
        let csp = page.header("content-security-policy");
        assert!(
            csp.contains("default-src 'none'")
                && csp.contains("script-src 'self'")
                && csp.contains("style-src 'self'"),
            "{path}: {csp}"
        );
        assert!(!csp.contains("unsafe"), "{path}: {csp}");
        assert_eq!(page.header("x-content-type-options"), "nosniff");
    }
    let plan = server.get("/plan").body;
    assert!(!plan.contains(" style=\"") && !plan.contains("<style") && !plan.contains(" onclick"));
    // Nothing is fetched from anywhere else.
    let elsewhere = plan.split("http").skip(1).any(|rest| {
        (rest.starts_with("://") || rest.starts_with("s://")) && !rest.contains("www.w3.org/2000/svg")
    });
    assert!(!elsewhere);
}

#[test]
fn forms_from_other_sites_are_refused() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let form = [("cook", COOK), ("intact", "whole")];
    for headers in [
        &[("Origin", "http://evil.example")][..],
        &[("Origin", "null")],
        &[("Referer", "http://evil.example/plan")],
        &[],
    ] {
        let reply = server.post_from("/plan/start", &form, headers);
        assert_eq!(reply.status, 403, "{headers:?}");
    }
    assert_eq!(server.get(&format!("/cook/{COOK}")).status, 404, "nothing was started");
}

#[test]
fn other_host_names_are_refused_unless_they_are_allowed() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start_at(data.path(), common::NOW, &["--host", "galley.lan"]);
    assert_eq!(server.get_with("/plan", &[("Host", "evil.example")]).status, 403);
    assert_eq!(server.get_with("/plan", &[("Host", "galley.lan:8765")]).status, 200);
    assert_eq!(server.get_with("/api/v1/calc/heat", &[("Host", "evil.example")]).status, 403);
}

#[test]
fn what_is_too_large_is_refused() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let large = "x".repeat(100_000);
    let reply = server.post("/plan/start", &[("cook", COOK), ("ready", &large)]);
    assert!((400..500).contains(&reply.status), "{}", reply.status);
    let body = format!("{{\"food\": \"{}\"}}", "x".repeat(2_000_000));
    let reply = server.send("/api/v1/calc/heat", "application/json", body.as_bytes());
    assert_eq!(reply.status, 413);
}
