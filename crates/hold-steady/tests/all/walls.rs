//! The parts of store and web stand in no circle: none needs a part that needs it. (The project's own rule; the core's
//! folders stand in an order of their own, which its tests hold.)

use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::{Path, PathBuf};

/// Every file under a folder.
fn files(folder: &Path) -> Vec<PathBuf> {
    let entries = fs::read_dir(folder).expect("a folder").map(|e| e.expect("an entry").path());
    entries.flat_map(|path| if path.is_dir() { files(&path) } else { vec![path] }).collect()
}

/// The parts that code names: `crate::part::…`, and those of `use crate::{part, …}`.
fn named(text: &str) -> BTreeSet<String> {
    let own = text.split("#[cfg(test)]").next().unwrap_or_default();
    let own: Vec<&str> = own.lines().filter(|l| !l.trim_start().starts_with("//")).collect();
    let own = own.join("\n");
    let word =
        |s: &str| s.split(|c: char| !c.is_alphanumeric() && c != '_').next().unwrap_or_default().to_owned();
    own.split("crate::")
        .skip(1)
        .flat_map(|after| match after.strip_prefix('{').and_then(|list| list.split_once("};")) {
            Some((list, _)) => list.split(',').map(|s| word(s.trim())).collect(),
            None => vec![word(after)],
        })
        .collect()
}

/// Every part, with those it needs.
fn parts(of: &str) -> BTreeMap<String, BTreeSet<String>> {
    let src = Path::new(env!("CARGO_MANIFEST_DIR")).join("..").join(of).join("src");
    let mut all: BTreeMap<String, BTreeSet<String>> = BTreeMap::new();
    for file in files(&src).into_iter().filter(|f| f.extension().is_some_and(|e| e == "rs")) {
        let part = file.strip_prefix(&src).expect("in it").iter().next().expect("a name");
        let part = part.to_string_lossy().trim_end_matches(".rs").to_owned();
        if part != "lib" {
            all.entry(part).or_default().extend(named(&fs::read_to_string(&file).expect("text")));
        }
    }
    let names: BTreeSet<String> = all.keys().cloned().collect();
    for (part, needs) in &mut all {
        needs.retain(|n| n != part && names.contains(n));
    }
    all
}

/// What a part needs, and what that needs in turn.
fn reached(from: &str, all: &BTreeMap<String, BTreeSet<String>>) -> BTreeSet<String> {
    let (mut seen, mut next) = (BTreeSet::new(), vec![from.to_owned()]);
    while let Some(part) = next.pop() {
        next.extend(all[&part].iter().filter(|n| seen.insert((*n).clone())).cloned());
    }
    seen
}

#[test]
fn no_part_needs_one_that_needs_it() {
    for of in ["store", "web"] {
        let all = parts(of);
        assert!(all.len() > 5 && all.values().any(|needs| !needs.is_empty()), "{of}: the parts are found");
        let circle: Vec<&String> = all.keys().filter(|part| reached(part, &all).contains(*part)).collect();
        assert!(circle.is_empty(), "{of}: {circle:?} need each other: {all:#?}");
    }
}

#[test]
fn what_is_named_is_seen() {
    let seen = named("use crate::{bath, rows::exists};\n// crate::cook\nlet x = crate::time::At(now);");
    assert_eq!(seen, BTreeSet::from(["bath", "rows", "time"].map(str::to_owned)));
}
