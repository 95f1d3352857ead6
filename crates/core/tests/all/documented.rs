//! Every public function of the core and of the equation of heat has an example that runs, in its own documentation.

use std::path::{Path, PathBuf};

fn sources(folder: &Path) -> Vec<PathBuf> {
    let mut all = Vec::new();
    for entry in std::fs::read_dir(folder).expect("a folder") {
        let path = entry.expect("an entry").path();
        if path.is_dir() {
            all.extend(sources(&path));
        } else if path.extension().is_some_and(|e| e == "rs") {
            all.push(path);
        }
    }
    all
}

/// The public functions of a file that have no example: line and text.
fn without_example(text: &str) -> Vec<(usize, &str)> {
    let lines: Vec<&str> = text.lines().take_while(|l| !l.contains("#[cfg(test)]")).collect();
    let public = |l: &str| l.starts_with("pub fn ") || l.starts_with("pub const fn ");
    let of_its_documentation = |l: &str| l.starts_with("///") || l.starts_with("#[");
    let mut missing = Vec::new();
    for (i, line) in lines.iter().enumerate().filter(|(_, l)| public(l.trim_start())) {
        let above = lines[..i].iter().rev().map(|l| l.trim_start());
        if !above.take_while(|l| of_its_documentation(l)).any(|l| l.contains("```")) {
            missing.push((i + 1, line.trim()));
        }
    }
    missing
}

#[test]
fn every_public_function_has_an_example_that_runs() {
    let core = Path::new(env!("CARGO_MANIFEST_DIR"));
    let files = [sources(&core.join("src")), sources(&core.join("../heat/src"))].concat();
    assert!(files.len() > 40, "{} files", files.len());
    for file in files {
        let text = std::fs::read_to_string(&file).expect("readable");
        assert_eq!(without_example(&text), [], "{}", file.display());
    }
}

#[test]
fn one_without_is_found() {
    let text = "/// Adds.\n#[must_use]\npub fn add() {}\n\n/// ```\n/// ```\npub const fn with() {}\n";
    assert_eq!(without_example(text), [(3, "pub fn add() {}")]);
}
