//! What keeps other sites out.

use crate::common::{COOK, Server};

#[test]
fn every_answer_forbids_foreign_and_inline_code() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    for path in ["/plan", "/cook", "/book", "/nowhere", "/assets/app/main.js"] {
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
    let server = Server::start_at(data.path(), crate::common::NOW, &["--host", "galley.lan"]);
    assert_eq!(server.get_with("/plan", &[("Host", "evil.example")]).status, 403);
    assert_eq!(server.get_with("/plan", &[("Host", "galley.lan:8765")]).status, 303, "to the door");
    assert_eq!(server.get_with("/api/v1/calc/heat", &[("Host", "evil.example")]).status, 403);
}

#[test]
fn a_name_said_by_a_proxy_s_headers_is_not_believed() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    // A page of another site, its name pointed at this machine, can set these.
    for forged in
        [("X-Forwarded-Host", "localhost"), ("Forwarded", "host=localhost"), ("X-Forwarded-For", "127.0.0.1")]
    {
        assert_eq!(server.get_with("/book", &[("Host", "evil.example"), forged]).status, 403, "{forged:?}");
    }
    // Nor do they shut out who comes by the right name.
    assert_eq!(server.get_with("/book", &[("X-Forwarded-Host", "evil.example")]).status, 200);
}

#[test]
fn another_site_may_lead_here_and_read_nothing() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let asked = |site, mode, dest| {
        let headers = [("Sec-Fetch-Site", site), ("Sec-Fetch-Mode", mode), ("Sec-Fetch-Dest", dest)];
        server.get_with("/book/export.json", &headers).status
    };
    assert_eq!(asked("cross-site", "navigate", "document"), 200);
    assert_eq!(asked("same-origin", "cors", "empty"), 200);
    for (mode, dest) in
        [("no-cors", "script"), ("cors", "empty"), ("navigate", "iframe"), ("no-cors", "image")]
    {
        assert_eq!(asked("cross-site", mode, dest), 403, "{mode} {dest}");
    }
    let page = server.get("/plan");
    assert_eq!(page.header("cross-origin-resource-policy"), "same-origin");
    assert!(page.header("permissions-policy").contains("camera=()"));
}

#[test]
fn json_is_json_however_it_is_written() {
    let data = tempfile::tempdir().expect("a folder");
    let server = Server::start(data.path());
    let body = br#"{"food":"beef-strip","thickness_mm":25,"start_c":5,"bath_c":55}"#;
    for kind in ["application/json", "Application/JSON", "application/json; charset=utf-8"] {
        assert_eq!(server.send("/api/v1/calc/heat", kind, body).status, 200, "{kind}");
    }
    assert_eq!(server.send("/api/v1/calc/heat", "text/plain", body).status, 415);
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
