//! The folders of the core stand in layers: each names only those below it. (docs/architecture.md says the order.)

use std::collections::BTreeSet;
use std::fs;
use std::path::{Path, PathBuf};

const ARCHITECTURE: &str = include_str!("../../../../docs/architecture.md");

/// The folders in their order, from the ground up.
fn order() -> Vec<&'static str> {
    let table = ARCHITECTURE.split_once("## The core, from the ground up").expect("it is described").1;
    let table = table.split_once("\n## ").map_or(table, |(own, _)| own);
    table
        .lines()
        .filter_map(|line| line.strip_prefix("| `")?.split_once("` |"))
        .map(|(name, _)| name)
        .collect()
}

fn sources(folder: &Path, all: &mut Vec<PathBuf>) {
    for entry in fs::read_dir(folder).expect("a folder").map(|e| e.expect("an entry").path()) {
        if entry.is_dir() {
            sources(&entry, all);
        } else if entry.extension().is_some_and(|e| e == "rs") && !entry.ends_with("tests.rs") {
            all.push(entry);
        }
    }
}

/// The folders a file names, outside its tests and comments.
fn named(text: &str) -> BTreeSet<&str> {
    let own = text.split_once("#[cfg(test)]").map_or(text, |(own, _)| own);
    let lines = own.lines().filter(|line| !line.trim_start().starts_with("//"));
    let parts = lines.flat_map(|line| line.split("crate::").skip(1));
    parts
        .map(|part| part.split(|c: char| !c.is_alphanumeric() && c != '_').next().unwrap_or_default())
        .collect()
}

#[test]
fn no_folder_names_one_above_it() {
    let order = order();
    let src = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
    let mut all = Vec::new();
    sources(&src, &mut all);
    let (mut wrong, mut seen) = (Vec::new(), BTreeSet::new());
    for file in all {
        let place = file.strip_prefix(&src).expect("in it");
        let first = place.iter().next().and_then(|p| p.to_str()).expect("a name").trim_end_matches(".rs");
        if first == "lib" {
            continue;
        }
        let own = order.iter().position(|o| *o == first);
        let own = own.unwrap_or_else(|| panic!("docs/architecture.md does not say where `{first}` stands"));
        seen.insert(first.to_owned());
        let text = fs::read_to_string(&file).expect("text");
        for other in named(&text) {
            if order.iter().position(|o| *o == other).is_some_and(|other| other > own) {
                wrong.push(format!("{}: {other}", place.display()));
            }
        }
    }
    assert_eq!(wrong, Vec::<String>::new(), "what is named belongs lower, or its user higher");
    assert_eq!(seen.len(), order.len(), "a folder that is described is not there");
}

#[test]
fn an_upward_name_is_seen() {
    assert_eq!(
        named("use crate::words::minutes;\n// crate::calc\nlet x = crate::units::a();"),
        BTreeSet::from(["units", "words"])
    );
}
