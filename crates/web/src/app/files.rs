//! Files in and out.

use std::fs::File;
use std::io::{BufWriter, Read, Seek, SeekFrom, Write};
use std::time::Duration;

use actix_web::body::SizedStream;
use actix_web::http::{StatusCode, header};
use actix_web::web::{self, Bytes};
use actix_web::{Error, HttpRequest, HttpResponse, HttpResponseBuilder};
use futures_util::StreamExt;
use hold_steady_core::who::Deed;
use hold_steady_store::StoreError;
use serde::Serialize;

use super::limits::{DOWNLOADS_AN_ADDRESS, Held};
use super::lines::{close_after, in_use};
use super::{AppState, Here, PageError, address, header_text};
use crate::words;

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

/// Writes down that a file of the book leaves the house, and by whom. (Asked for by HEAD, nothing leaves.)
pub async fn taken_out(state: &AppState, request: &HttpRequest, file: &str) -> Result<(), PageError> {
    if request.method() == actix_web::http::Method::HEAD {
        return Ok(());
    }
    let deed = Deed::TakenOut { file: file.to_owned() };
    match Here::of(request)?.done(deed, state.clock.now()).await {
        // Where nothing can be written any more, what is there must still get out.
        Err(e @ (StoreError::Full | StoreError::Busy | StoreError::Unwritable(_))) => {
            tracing::error!(error = %e, file, "taken out, which could not be written down");
            Ok(())
        }
        other => Ok(other?),
    }
}

/// So much is sent at a time.
const CHUNK: u64 = 64 * 1024;
/// Whoever has not taken a whole file by then takes it no more.
const LONGEST: Duration = Duration::from_secs(30 * 60);

/// What `make` writes, sent as a file once it is whole. Whoever reads slowly holds that file and nothing else: no
/// connection to the book, no place to compute at.
pub async fn made<F>(
    state: &AppState,
    request: &HttpRequest,
    (name, kind): (&str, &str),
    make: impl FnOnce(BufWriter<File>) -> F,
) -> Result<HttpResponse, PageError>
where
    F: Future<Output = Result<(), StoreError>>,
{
    let held = download(state, request)?;
    let file = state.store.scratch()?;
    make(BufWriter::new(file.try_clone().map_err(StoreError::from)?)).await?;
    whole(request, (name, kind), file, held)
}

/// A file that is there, sent.
pub async fn sent<F>(
    state: &AppState,
    request: &HttpRequest,
    (name, kind): (&str, &str),
    file: F,
) -> Result<HttpResponse, PageError>
where
    F: Future<Output = Result<File, StoreError>>,
{
    let held = download(state, request)?;
    let file = file.await?;
    whole(request, (name, kind), file, held)
}

fn download(state: &AppState, request: &HttpRequest) -> Result<Held, PageError> {
    state
        .limits
        .downloads
        .take(address(request))
        .ok_or_else(|| PageError::TooMany(10, words::door::too_many_downloads(DOWNLOADS_AN_ADDRESS)))
}

fn whole(
    request: &HttpRequest,
    (name, kind): (&str, &str),
    mut file: File,
    held: Held,
) -> Result<HttpResponse, PageError> {
    let length =
        file.seek(SeekFrom::End(0)).and_then(|n| file.rewind().map(|()| n)).map_err(StoreError::from)?;
    let kept = (held, in_use(request), close_after(request, LONGEST));
    let next = move |(file, kept): (File, _)| async move {
        let read = web::block(move || {
            let mut chunk = Vec::new();
            (&file).take(CHUNK).read_to_end(&mut chunk).map(|_| (chunk, file))
        });
        match read.await {
            Ok(Ok((chunk, _))) if chunk.is_empty() => None,
            Ok(Ok((chunk, file))) => Some((Ok::<_, Error>(Bytes::from(chunk)), (file, kept))),
            // Broken off: nobody takes half a book for the whole.
            _ => None,
        }
    };
    let chunks = futures_util::stream::unfold((file, kept), next);
    Ok(head(name, kind).body(SizedStream::new(length, Box::pin(chunks))))
}

/// A JSON file to be downloaded.
pub fn json_file(name: &str, content: &impl Serialize) -> Result<HttpResponse, PageError> {
    let text = serde_json::to_string_pretty(content)
        .map_err(|e| PageError::Request(format!("the file cannot be written: {e}")))?;
    Ok(attachment(name, "application/json", text))
}

/// How long a book may take to arrive.
const BOOK_WITHIN: Duration = Duration::from_secs(10 * 60);
/// So much of it is held until it is on the disk.
const PORTION: usize = 1024 * 1024;

/// The first file of an upload, written to the disk as it comes; or what is wrong with it. What is sent faster than it can be
/// written waits.
pub async fn uploaded(
    state: &AppState,
    request: &HttpRequest,
    mut body: web::Payload,
    most: u64,
    choose: &str,
) -> Result<Result<File, String>, PageError> {
    let kind = header_text(request, &header::CONTENT_TYPE).unwrap_or_default();
    let Ok(boundary) = multer::parse_boundary(kind) else { return Ok(Err(choose.into())) };
    let (send, receive) = tokio::sync::mpsc::channel::<Result<Bytes, std::io::Error>>(2);
    let coming = actix_web::rt::spawn(async move {
        while let Some(chunk) = body.next().await {
            let broken = chunk.is_err();
            if send.send(chunk.map_err(std::io::Error::other)).await.is_err() || broken {
                break;
            }
        }
    });
    let received =
        futures_util::stream::unfold(receive, |mut r| async { r.recv().await.map(|chunk| (chunk, r)) });
    let limit = multer::Constraints::new().size_limit(multer::SizeLimit::new().whole_stream(most));
    let mut parts = multer::Multipart::with_constraints(received, boundary, limit);
    let file = state.store.scratch()?;
    let whole = tokio::time::timeout(BOOK_WITHIN, first_part(&mut parts, &file)).await;
    coming.abort();
    match whole {
        Ok(Ok(0)) => Ok(Err(choose.into())),
        Ok(Ok(_)) => Ok(Ok(file)),
        Ok(Err(Broken::Disk(e))) => Err(StoreError::from(e).into()),
        Ok(Err(Broken::Upload(multer::Error::StreamSizeExceeded { .. }))) => {
            Err(PageError::Body(StatusCode::PAYLOAD_TOO_LARGE, words::book::too_large(most)))
        }
        Ok(Err(Broken::Upload(e))) => Err(PageError::Body(StatusCode::BAD_REQUEST, words::book::unread(&e))),
        Err(_) => Err(PageError::Body(
            StatusCode::REQUEST_TIMEOUT,
            words::book::too_late(BOOK_WITHIN.as_secs() / 60),
        )),
    }
}

/// Why a file did not arrive.
enum Broken {
    Disk(std::io::Error),
    Upload(multer::Error),
}

/// Writes the first part of an upload into a file; how long it was.
async fn first_part(parts: &mut multer::Multipart<'_>, file: &File) -> Result<u64, Broken> {
    let Some(mut field) = parts.next_field().await.map_err(Broken::Upload)? else { return Ok(0) };
    let (mut held, mut length) = (Vec::with_capacity(PORTION), 0);
    loop {
        let chunk = field.chunk().await.map_err(Broken::Upload)?;
        let last = chunk.is_none();
        held.extend_from_slice(&chunk.unwrap_or_default());
        if last || held.len() >= PORTION {
            length += held.len() as u64;
            let mut to = file.try_clone().map_err(Broken::Disk)?;
            let write = web::block(move || to.write_all(&held).map(|()| held)).await;
            held = write.map_err(|e| Broken::Disk(std::io::Error::other(e)))?.map_err(Broken::Disk)?;
            held.clear();
        }
        if last {
            return Ok(length);
        }
    }
}

/// The text of the first file of an upload.
pub async fn uploaded_text(request: &HttpRequest, body: Bytes, choose: &str) -> Result<String, String> {
    let unreadable = |e: multer::Error| words::door::file_unread(&e);
    let kind = header_text(request, &header::CONTENT_TYPE).unwrap_or_default();
    let boundary = multer::parse_boundary(kind).map_err(unreadable)?;
    let whole = futures_util::stream::iter([Ok::<_, std::convert::Infallible>(body)]);
    let mut parts = multer::Multipart::new(whole, boundary);
    let field = parts.next_field().await.map_err(unreadable)?.ok_or(choose)?;
    let bytes = field.bytes().await.map_err(unreadable)?;
    if bytes.is_empty() {
        return Err(choose.into());
    }
    String::from_utf8(bytes.into()).map_err(|_| words::door::NOT_TEXT.into())
}
