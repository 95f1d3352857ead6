//! Files in and out.

use actix_multipart::Multipart;
use actix_web::HttpResponse;
use actix_web::http::header;
use futures_util::{StreamExt, TryStreamExt};
use serde::Serialize;

use super::{IMPORT_LIMIT, PageError};

/// A file to be downloaded.
pub fn attachment(name: &str, kind: &str, body: String) -> HttpResponse {
    HttpResponse::Ok()
        .content_type(kind)
        .insert_header((header::CONTENT_DISPOSITION, format!("attachment; filename=\"{name}\"")))
        .insert_header((header::CACHE_CONTROL, "no-store"))
        .body(body)
}

/// A JSON file to be downloaded.
pub fn json_file(name: &str, content: &impl Serialize) -> Result<HttpResponse, PageError> {
    let text = serde_json::to_string_pretty(content)
        .map_err(|e| PageError::Request(format!("the file cannot be written: {e}")))?;
    Ok(attachment(name, "application/json", text))
}

/// The text of the first file of an upload.
pub async fn uploaded_text(mut parts: Multipart, choose: &str) -> Result<String, String> {
    let unreadable = |e: actix_multipart::MultipartError| format!("The file could not be read: {e}.");
    let mut field = parts.try_next().await.map_err(unreadable)?.ok_or(choose)?;
    let mut bytes = Vec::new();
    while let Some(chunk) = field.next().await {
        let chunk = chunk.map_err(unreadable)?;
        if bytes.len() + chunk.len() > IMPORT_LIMIT {
            return Err(format!("The file is larger than {} MB.", IMPORT_LIMIT >> 20));
        }
        bytes.extend_from_slice(&chunk);
    }
    if bytes.is_empty() {
        return Err(choose.into());
    }
    String::from_utf8(bytes).map_err(|_| "The file is not text; choose one in JSON.".into())
}
