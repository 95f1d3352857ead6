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

/// What stands between quotes in code, with the line it begins on; comments are none.
fn literals(code: &str) -> Vec<(usize, String)> {
    let code: Vec<&str> =
        code.lines().map(|l| if l.trim_start().starts_with("//") { "" } else { l }).collect();
    let (mut all, mut open, mut escaped) = (Vec::new(), None::<(usize, String)>, false);
    for (line, text) in code.iter().enumerate() {
        for letter in text.chars() {
            match (&mut open, letter) {
                (None, '"') => open = Some((line + 1, String::new())),
                (Some(_), '"') if !escaped => all.extend(open.take()),
                (Some((_, said)), _) => said.push(letter),
                (None, _) => {}
            }
            escaped = letter == '\\' && !escaped;
        }
    }
    all
}

/// A sentence: four words or more, that end as one does.
fn is_sentence(said: &str) -> bool {
    let ends = said.trim_end_matches(['"', '”', ')']).ends_with(['.', '?', '!', ':']);
    ends && said.split_whitespace().filter(|w| w.chars().any(char::is_alphabetic)).count() >= 4
}

#[test]
fn every_sentence_stands_in_words() {
    let found: Vec<String> = all()
        .into_iter()
        .filter(|(file, _)| !file.contains("/src/words/"))
        .flat_map(|(file, code)| {
            // An error says itself what it is.
            let code: String =
                code.lines().filter(|l| !l.contains("#[error(")).fold(String::new(), |all, l| all + l + "\n");
            literals(&code).into_iter().map(move |(line, said)| (file.clone(), line, said))
        })
        .filter(|(.., said)| is_sentence(said))
        .map(|(file, line, said)| format!("{file}, about line {line}: {said}"))
        .collect();
    assert!(found.is_empty(), "{found:#?}");
    assert!(
        is_sentence("It was kept in water.") && !is_sentence("to the book"),
        "what is looked for is told apart"
    );
}
