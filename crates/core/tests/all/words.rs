//! What is said goes by the figures: no number of the rules or of the trade stands in a sentence. Looked for in the source,
//! because nothing else would notice. (The project's own rule.)

use std::path::Path;

/// Digits and number words, where a sentence says how much, how long or how hot. What is filled in is none.
fn has_a_number(said: &str) -> bool {
    let said: String = said
        .split('{')
        .enumerate()
        .map(|(i, s)| if i == 0 { s } else { s.split_once('}').map_or("", |(_, after)| after) })
        .collect();
    const NUMBERS: [&str; 14] = [
        "two", "three", "four", "five", "six", "seven", "eight", "ten", "twelve", "fifteen", "twenty",
        "thirty", "half", "quarter",
    ];
    const UNITS: [&str; 14] = [
        "hour", "hours", "minutes", "min", "h", "s", "seconds", "days", "degrees", "°C", "°F", "K", "mm", "g",
    ];
    let words: Vec<&str> =
        said.split_whitespace().map(|w| w.trim_matches(|c: char| !c.is_alphanumeric() && c != '°')).collect();
    let number = |w: &str| NUMBERS.contains(&w) || w.parse::<f64>().is_ok();
    // “four hours”, “half an hour”, “15 s”.
    words.iter().enumerate().any(|(i, w)| {
        let next = words.iter().skip(i + 1).find(|w| !["an", "a", "of"].contains(*w));
        number(w) && next.is_some_and(|n| UNITS.contains(n))
    })
}

#[test]
fn no_sentence_has_a_number_of_its_own() {
    assert!(has_a_number("after half an hour nothing") && has_a_number("Each 15 s more"));
    assert!(
        !has_a_number("One on the other they heat as one piece {} thick") && !has_a_number("in two ways")
    );
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("src/words");
    let mut found = Vec::new();
    for entry in std::fs::read_dir(folder).expect("a folder") {
        let path = entry.expect("an entry").path();
        let text = std::fs::read_to_string(&path).expect("text");
        let code = text.split("#[cfg(test)]").next().unwrap_or_default();
        let code: Vec<&str> = code.lines().filter(|l| !l.trim_start().starts_with("//")).collect();
        // Every other piece between quotes is said.
        let said = code.join("\n").replace("\\\"", "");
        found.extend(
            said.split('"')
                .skip(1)
                .step_by(2)
                // What shows how something is typed.
                .filter(|s| has_a_number(s) && !s.contains("such as") && !s.contains("“happened at”"))
                .map(|s| format!("{}: {s}", path.display())),
        );
    }
    // How a thickness is typed, in either unit.
    found.retain(|s| !s.ends_with("about 32 mm") && !s.ends_with("25 to 32 mm"));
    assert!(found.is_empty(), "{found:#?}");
}
