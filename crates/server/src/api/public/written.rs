//! What visitors of a page write, with the files that they send along.

use crate::{
    app::App,
    pictures::{self, Upload},
    problem::{Json, Problem, holds_zero},
    refusal::Refusal,
};
use axum::{
    extract::{FromRequest, Multipart, Request},
    http::header,
};
use serde::de::DeserializeOwned;
use std::collections::BTreeMap;
use westerfall_core::{
    dataset::Dataset,
    fault::{Fault, FaultKind},
    id::FieldId,
    value::Attachment,
};

/// Most files that are sent at once.
const MOST_FILES: usize = 30;

/// What was written. As JSON; or, with files, as a multipart form: the JSON as its part `body`, each file as a part named `file-`
/// and the number of its field.
pub(in crate::api) struct Written<T> {
    pub(super) body: T,
    pub(super) files: Vec<SentFile>,
}

/// A file as it was sent.
pub(in crate::api) struct SentFile {
    field: FieldId,
    name: String,
    bytes: Vec<u8>,
}

/// Files by the fields to which they belong.
pub(super) type ByField = BTreeMap<FieldId, Vec<Attachment>>;

impl<S: Send + Sync, T: DeserializeOwned + Send> FromRequest<S> for Written<T> {
    type Rejection = Problem;

    async fn from_request(request: Request, state: &S) -> Result<Self, Problem> {
        let kind = request.headers().get(header::CONTENT_TYPE).and_then(|kind| kind.to_str().ok()).unwrap_or_default();
        if !kind.starts_with("multipart/form-data") {
            let Json(body) = Json::<T>::from_request(request, state).await?;
            return Ok(Self { body, files: Vec::new() });
        }
        let mut multipart = Multipart::from_request(request, state).await.map_err(|_| Refusal::Unreadable)?;
        let (mut body, mut files) = (None, Vec::new());
        while let Some(part) = multipart.next_field().await? {
            let of = part.name().unwrap_or_default().to_owned();
            if of == "body" {
                let text = part.text().await?;
                if holds_zero(text.as_bytes()) {
                    return Err(Refusal::HoldsZero.into());
                }
                let shape = |_| Refusal::WrongShape.saying("What was written is not JSON of the right shape.");
                body = Some(serde_json::from_str(&text).map_err(shape)?);
                continue;
            }
            let field = of.strip_prefix("file-").and_then(|field| field.parse().ok()).ok_or(Refusal::Unreadable)?;
            let name = part.file_name().unwrap_or("file").to_owned();
            files.push(SentFile { field, name, bytes: part.bytes().await?.to_vec() });
            if files.len() > MOST_FILES {
                return Err(Fault::new(FaultKind::TooLong, format!("At most {MOST_FILES} files can be sent at once.")).into());
            }
        }
        Ok(Self { body: body.ok_or(Refusal::Unreadable)?, files })
    }
}

/// Files as they will be, before anybody has looked into them.
pub(super) fn unexamined(files: &[SentFile]) -> ByField {
    let mut named = ByField::new();
    for (number, file) in files.iter().enumerate() {
        let (id, media) = (format!("unexamined-{number}"), "application/octet-stream".to_owned());
        let attachment = Attachment { id, name: file.name.clone(), media, size: file.bytes.len() as u64 };
        named.entry(file.field).or_default().push(attachment);
    }
    named
}

/// Looks into the files, now that the rest would be taken.
///
/// # Errors
/// One of them can't be kept.
pub(super) async fn examined(app: &App, ds: &Dataset, files: Vec<SentFile>) -> Result<(ByField, Vec<Upload>), Problem> {
    let (mut named, mut uploads) = (ByField::new(), Vec::new());
    for SentFile { field, name, bytes } in files {
        let upload = pictures::examine(&app.rooms, name, bytes, pictures::Keep::of(ds, field)).await;
        let upload = upload.map_err(|problem| problem.at(&format!("/edits/{field}")))?;
        named.entry(field).or_default().push(upload.attachment.clone());
        uploads.push(upload);
    }
    Ok((named, uploads))
}
