//! What visitors of a page write, with the files that they send along.

use super::sent::{self, Place, Placed, SentFile};
use crate::{
    problem::{Json, Problem, holds_zero},
    refusal::Refusal,
};
use axum::{
    extract::{FromRequest, Multipart, Request},
    http::header,
};
use serde::de::DeserializeOwned;
use westerfall_core::id::FieldId;

/// What was written. As JSON; or, with files, as a multipart form: the JSON as its part `body`, each file as a part named `file-`
/// and the number of its field.
pub(in crate::api) struct Written<T> {
    pub(super) body: T,
    pub(super) files: Vec<SentFile<FieldId>>,
}

/// A page’s files belong to fields.
impl Place for FieldId {
    fn field(self) -> FieldId {
        self
    }

    fn pointer(self) -> String {
        format!("/files/{self}")
    }
}

/// Files by the fields to which they belong.
pub(super) type ByField = Placed<FieldId>;

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
            let place = of.strip_prefix("file-").and_then(|field| field.parse().ok()).ok_or(Refusal::Unreadable)?;
            let name = part.file_name().unwrap_or("file").to_owned();
            sent::add(&mut files, SentFile { place, name, bytes: part.bytes().await?.to_vec() })?;
        }
        Ok(Self { body: body.ok_or(Refusal::Unreadable)?, files })
    }
}
