//! Styles, scripts and fonts, shipped inside the binary.

use actix_web::http::header;
use actix_web::{HttpRequest, HttpResponse, web};
use rust_embed::RustEmbed;

use super::error::PageError;

#[derive(RustEmbed)]
#[folder = "assets/"]
struct Assets;

/// A short mark of the shipped files' contents, so that browsers keep them until they change.
pub fn version() -> &'static str {
    use std::sync::LazyLock;
    static VERSION: LazyLock<String> = LazyLock::new(|| {
        let mut mark: u64 = 0xcbf2_9ce4_8422_2325;
        for name in Assets::iter() {
            let Some(file) = Assets::get(&name) else { continue };
            for byte in file.metadata.sha256_hash() {
                mark = (mark ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3);
            }
        }
        format!("{mark:016x}")
    });
    &VERSION
}

pub async fn file(request: HttpRequest, path: web::Path<String>) -> Result<HttpResponse, PageError> {
    serve(&request, &path)
}

pub async fn favicon(request: HttpRequest) -> Result<HttpResponse, PageError> {
    serve(&request, "mark.svg")
}

fn serve(request: &HttpRequest, name: &str) -> Result<HttpResponse, PageError> {
    let file = Assets::get(name).ok_or(PageError::NoSuchPage)?;
    // Files named with the current mark never change under that name.
    let named = request.query_string() == format!("v={}", version());
    let keep = if named { "public, max-age=31536000, immutable" } else { "no-cache" };
    Ok(HttpResponse::Ok()
        .content_type(file.metadata.mimetype())
        .insert_header((header::CACHE_CONTROL, keep))
        .body(file.data.into_owned()))
}
