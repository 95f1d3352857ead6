//! Files in and out.

use std::io::{self, Write};
use std::mem;
use std::time::{Duration, Instant};

use actix_multipart::Multipart;
use actix_web::http::header;
use actix_web::web::Bytes;
use actix_web::{HttpResponse, HttpResponseBuilder};
use futures_util::{StreamExt, TryStreamExt};
use hold_steady_store::StoreError;
use serde::Serialize;
use tokio::sync::mpsc::{self, error::TrySendError};

use super::{IMPORT_LIMIT, PageError};

fn head(name: &str, kind: &str) -> HttpResponseBuilder {
    let mut answer = HttpResponse::Ok();
    answer
        .content_type(kind)
        .insert_header((header::CONTENT_DISPOSITION, format!("attachment; filename=\"{name}\"")))
        .insert_header((header::CACHE_CONTROL, "no-store"));
    answer
}

/// A file to be downloaded.
pub fn attachment(name: &str, kind: &str, body: String) -> HttpResponse {
    head(name, kind).body(body)
}

/// Text that is sent while it is made: a long book needs no more room than a short one.
pub struct Chunks {
    made: Vec<u8>,
    to: mpsc::Sender<Result<Bytes, io::Error>>,
}

/// So much is sent at a time.
const CHUNK: usize = 32 * 1024;
/// Whoever reads nothing for so long is not waited for: what makes the text holds a connection to the book.
const SLOWEST: Duration = Duration::from_secs(30);

impl Chunks {
    fn send(&mut self) -> io::Result<()> {
        const LOOK: Duration = Duration::from_millis(10);
        let mut chunk = Ok(Bytes::from(mem::take(&mut self.made)));
        let begun = Instant::now();
        loop {
            chunk = match self.to.try_send(chunk) {
                Ok(()) => return Ok(()),
                Err(TrySendError::Full(back)) if begun.elapsed() < SLOWEST => back,
                Err(_) => return Err(io::ErrorKind::BrokenPipe.into()),
            };
            std::thread::sleep(LOOK);
        }
    }
}

impl Write for Chunks {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        self.made.extend_from_slice(bytes);
        if self.made.len() >= CHUNK {
            self.send()?;
        }
        Ok(bytes.len())
    }

    fn flush(&mut self) -> io::Result<()> {
        if self.made.is_empty() { Ok(()) } else { self.send() }
    }
}

/// What `make` writes, sent as a file while it is written. Where it fails half-way the connection is broken off:
/// nobody takes half a book for the whole.
pub fn streamed<F>(name: &str, kind: &str, make: impl FnOnce(Chunks) -> F) -> HttpResponse
where
    F: Future<Output = Result<(), StoreError>> + 'static,
{
    const AHEAD: usize = 4;
    let (to, from) = mpsc::channel(AHEAD);
    let making = make(Chunks { made: Vec::with_capacity(CHUNK), to: to.clone() });
    actix_web::rt::spawn(async move {
        if let Err(e) = making.await {
            tracing::warn!("a file broke off: {e}");
            let _ = to.send(Err(io::Error::other(e.to_string()))).await;
        }
    });
    let next = |mut from: mpsc::Receiver<_>| async move { from.recv().await.map(|chunk| (chunk, from)) };
    head(name, kind).streaming(futures_util::stream::unfold(from, next))
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
