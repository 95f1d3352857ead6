//! The core decides, the web shows: no temperature is compared and none of the rules' figures stands in the pages'
//! code. Looked for in the source, because nothing else would notice. (The project's own rule.)

use std::path::Path;

/// The sources of the pages without their tests, by file.
fn sources(folder: &Path, into: &mut Vec<(String, String)>) {
    for entry in std::fs::read_dir(folder).expect("a folder") {
        let path = entry.expect("an entry").path();
        if path.is_dir() {
            sources(&path, into);
        } else if path.extension().is_some_and(|e| e == "rs") {
            let text = std::fs::read_to_string(&path).expect("text");
            let code = text.split("#[cfg(test)]").next().unwrap_or_default().to_owned();
            into.push((path.display().to_string(), code));
        }
    }
}

fn all() -> Vec<(String, String)> {
    let mut all = Vec::new();
    sources(&Path::new(env!("CARGO_MANIFEST_DIR")).join("src"), &mut all);
    assert!(all.len() > 20, "the sources are found");
    all
}

/// Whether a word is a temperature by its name.
fn is_temperature(word: &str) -> bool {
    let last = word.rsplit('.').next().unwrap_or_default();
    last == "c" || last.ends_with("_c") || last.ends_with("_k") || last.contains("celsius")
}

#[test]
fn no_page_compares_temperatures() {
    let mut found = Vec::new();
    for (file, code) in all() {
        for line in code.lines().map(str::trim).filter(|l| !l.starts_with("//")) {
            let words: Vec<&str> = line.split_whitespace().collect();
            for three in words.windows(3) {
                let compares = matches!(three[1], "<" | ">" | "<=" | ">=" | "==" | "!=");
                let bare = |w: &str| {
                    is_temperature(w.trim_matches(|c: char| !c.is_alphanumeric() && c != '_' && c != '.'))
                };
                if compares && (bare(three[0]) || bare(three[2])) {
                    found.push(format!("{file}: {line}"));
                }
            }
        }
    }
    assert!(found.is_empty(), "{found:#?}");
}

#[test]
fn no_figure_of_the_rules_stands_in_the_pages() {
    // The rules' own temperatures and limits, as anybody would write them.
    const FIGURES: [&str; 8] = ["54.4", "52.3", "57.0", "60.0 °C", "63.0", "74.0", "240.0", "360.0"];
    let mut found = Vec::new();
    for (file, code) in all().into_iter().filter(|(file, _)| !file.contains("drawing")) {
        for line in code.lines().map(str::trim).filter(|l| !l.starts_with("//")) {
            if FIGURES.iter().any(|f| line.contains(f)) {
                found.push(format!("{file}: {line}"));
            }
        }
    }
    assert!(found.is_empty(), "{found:#?}");
}
