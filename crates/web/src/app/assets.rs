//! Styles, scripts and fonts, shipped inside the binary.

use std::sync::LazyLock;

use actix_web::http::header;
use actix_web::{HttpResponse, web};
use rust_embed::RustEmbed;
use sha2::{Digest, Sha256};

use super::error::PageError;

/// Fonts, pictures and what others wrote.
#[derive(RustEmbed)]
#[folder = "assets/"]
struct Assets;

/// The scripts, each a module in the folder of the pages it is for.
macro_rules! scripts {
    ($($name:literal)*) => { &[$(($name, include_str!(concat!("../", $name)))),*] };
}

/// By name and text, in the order of their names.
const SCRIPTS: &[(&str, &str)] = scripts! {
    "app/alarm.js"
    "app/away.js"
    "app/clock.js"
    "app/depth.js"
    "app/keys.js"
    "app/main.js"
    "app/page.js"
    "app/tone.js"
    "bath/bench.js"
    "board/board.js"
    "board/log.js"
    "cook/again.js"
    "cook/age.js"
    "cook/sear.js"
    "cook/speak.js"
    "cook/title.js"
    "door/who.js"
    "drawing/map.js"
    "drawing/scale.js"
    "drawing/slice.js"
    "finish/finish.js"
    "finish/pace.js"
    "plan/foods.js"
    "plan/late.js"
    "plan/open.js"
    "plan/sentence.js"
    "plan/stale.js"
};

/// The styles, each in the folder of the pages it is for, in the order in which later ones overrule earlier ones.
const STYLES: &str = concat!(
    include_str!("../app/base.css"),
    include_str!("../app/alarm.css"),
    include_str!("../plan/sentence.css"),
    include_str!("../drawing/scale.css"),
    include_str!("../plan/tender.css"),
    include_str!("../drawing/map.css"),
    include_str!("../plan/answer.css"),
    include_str!("../drawing/ribbon.css"),
    include_str!("../drawing/slice.css"),
    include_str!("../cook/cook.css"),
    include_str!("../bath/bath.css"),
    include_str!("../board/board.css"),
    include_str!("../keep/keep.css"),
    include_str!("../book/book.css"),
    include_str!("../evidence/know.css"),
    include_str!("../food/food.css"),
    include_str!("../finish/finish.css"),
    include_str!("../kitchen/kitchen.css"),
    include_str!("../plan/prep.css"),
    include_str!("../cook/steps.css"),
    include_str!("../cook/print.css"),
    include_str!("../door/door.css"),
    include_str!("../app/narrow.css")
);

fn script(name: &str) -> Option<&'static str> {
    SCRIPTS.binary_search_by_key(&name, |s| s.0).ok().map(|i| SCRIPTS[i].1)
}

/// A short mark of the shipped files' contents, so that browsers keep them until they change.
pub fn version() -> &'static str {
    static VERSION: LazyLock<String> = LazyLock::new(|| {
        let mut mark = Sha256::new();
        for name in Assets::iter() {
            mark.update(Assets::get(&name).map_or([0; 32], |file| file.metadata.sha256_hash()));
        }
        for (name, text) in SCRIPTS {
            mark.update(name);
            mark.update(text);
        }
        mark.update(STYLES);
        mark.finalize().iter().take(8).map(|b| format!("{b:02x}")).collect()
    });
    &VERSION
}

pub async fn file(path: web::Path<String>) -> Result<HttpResponse, PageError> {
    serve(&path)
}

pub async fn favicon() -> Result<HttpResponse, PageError> {
    serve("mark.svg")
}

/// A file by its name, or by the current mark and its name: under that name it never changes, and what it asks for
/// beside itself is asked for under the mark too.
fn serve(path: &str) -> Result<HttpResponse, PageError> {
    let marked = path.strip_prefix(version()).and_then(|rest| rest.strip_prefix('/'));
    let name = marked.unwrap_or(path);
    let keep = if marked.is_some() { "public, max-age=31536000, immutable" } else { "no-cache" };
    let mut answer = HttpResponse::Ok();
    answer.insert_header((header::CACHE_CONTROL, keep));
    if name == "hold-steady.css" {
        return Ok(answer.content_type("text/css; charset=utf-8").body(STYLES));
    }
    if let Some(text) = script(name) {
        return Ok(answer.content_type("text/javascript; charset=utf-8").body(text));
    }
    let file = Assets::get(name).ok_or(PageError::NoSuchPage)?;
    Ok(answer.content_type(file.metadata.mimetype()).body(file.data.into_owned()))
}

#[cfg(test)]
mod tests {
    use super::{SCRIPTS, script};
    use std::path::Path;

    #[test]
    fn every_script_beside_a_page_is_shipped() {
        let src = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
        let mut here = Vec::new();
        for folder in
            std::fs::read_dir(&src).expect("there").map(|e| e.expect("one").path()).filter(|p| p.is_dir())
        {
            for file in std::fs::read_dir(&folder).expect("there").map(|e| e.expect("one").path()) {
                if file.extension().is_some_and(|e| e == "js") {
                    here.push(file.strip_prefix(&src).expect("in it").to_string_lossy().replace('\\', "/"));
                }
            }
        }
        here.sort();
        assert_eq!(SCRIPTS.iter().map(|s| s.0).collect::<Vec<_>>(), here);
        assert!(script("app/main.js").is_some() && script("app/none.js").is_none());
    }
}
