//! Everything that can go wrong, as RFC 9457 problem details. One place decides status and shape; no text of a library,
//! a panic or the database reaches a client.

use crate::refusal::Refusal;
use axum::{
    extract::{FromRequest, FromRequestParts, Request, multipart::MultipartError, rejection::JsonRejection},
    http::{HeaderValue, StatusCode, header, request::Parts},
    response::{IntoResponse, Response},
};
use serde::{Serialize, de::DeserializeOwned};
use std::{borrow::Cow, collections::BTreeSet};
use utoipa::ToSchema;
use westerfall_core::fault::{Fault, FaultKind, Faults};
use westerfall_store::StoreError;

/// A problem on its way to the client.
#[derive(Debug)]
pub struct Problem {
    status: StatusCode,
    /// Of what is refused at the door.
    refusal: Option<Refusal>,
    detail: String,
    faults: Vec<Fault>,
    /// After how many seconds it is worth trying again, where it is.
    again: Option<u64>,
}

/// A problem as it is sent.
#[derive(Debug, Serialize, ToSchema)]
pub struct ProblemBody {
    /// Always `about:blank`: the status and the faults say what it is.
    r#type: &'static str,
    title: &'static str,
    status: u16,
    /// Which refusal at the door it is, where it is one; what core says is told by the kinds of the faults.
    #[serde(skip_serializing_if = "Option::is_none")]
    refusal: Option<Refusal>,
    /// One sentence for people.
    detail: String,
    /// Each thing that is wrong, with its place in what was sent.
    faults: Vec<Fault>,
}

impl Problem {
    /// A refusal at the door, which has no place in what was sent.
    pub(crate) fn refused(refusal: Refusal, detail: String) -> Self {
        Self { status: refusal.status(), refusal: Some(refusal), detail, faults: Vec::new(), again: None }
    }

    /// Whether what was asked for is not there.
    pub fn is_missing(&self) -> bool {
        self.status == StatusCode::NOT_FOUND
    }

    /// Our own fault. The cause is written to the log, not sent.
    pub fn internal(cause: &str) -> Self {
        tracing::error!(cause, "internal error");
        Refusal::Internal.into()
    }

    /// More is asked than can be done soon.
    pub fn busy() -> Self {
        Self { again: Some(3), ..Refusal::Busy.into() }
    }

    /// What holds the data does not answer.
    pub fn unavailable(cause: &str) -> Self {
        tracing::warn!(cause, "the database can't be asked");
        Self { again: Some(2), ..Refusal::Unavailable.into() }
    }

    /// It was begun, and nobody can say how it ended. Sent again under the same key, it is done once.
    pub fn unknown(cause: &str) -> Self {
        tracing::error!(cause, "it is not known whether a change was kept");
        Self { again: Some(2), ..Refusal::Unknown.into() }
    }

    /// What a fault of the store is to a client.
    pub fn from_store(error: &StoreError) -> Self {
        if error.is_of_connection() { Self::unavailable(&error.to_string()) } else { Self::internal(&error.to_string()) }
    }

    /// Somebody asks too often.
    pub fn too_often(seconds: u64) -> Self {
        let seconds = seconds.max(1);
        let detail = format!("That was a lot at once. Wait {seconds} seconds and try again.");
        Self { again: Some(seconds), ..Refusal::TooOften.saying(detail) }
    }

    /// Puts the problem at a place of what was sent.
    #[must_use]
    pub fn at(mut self, pointer: &str) -> Self {
        if self.faults.is_empty() {
            self.faults.push(Fault::new(FaultKind::WrongKind, self.detail.clone()).at(pointer));
        }
        self
    }
}

impl Refusal {
    /// With its own sentence.
    pub fn saying(self, detail: impl Into<Cow<'static, str>>) -> Problem {
        Problem::refused(self, detail.into().into_owned())
    }
}

impl From<Refusal> for Problem {
    fn from(refusal: Refusal) -> Self {
        refusal.saying(refusal.told().1)
    }
}

/// What breaks while the pieces of a form are read.
impl From<MultipartError> for Problem {
    fn from(error: MultipartError) -> Self {
        let too_much = error.status() == StatusCode::PAYLOAD_TOO_LARGE;
        if too_much { Refusal::TooMuch.into() } else { Refusal::Unreadable.into() }
    }
}

fn status_of(kind: FaultKind) -> StatusCode {
    match kind {
        FaultKind::NotFound => StatusCode::NOT_FOUND,
        FaultKind::NotAllowed => StatusCode::FORBIDDEN,
        FaultKind::NotSignedIn => StatusCode::UNAUTHORIZED,
        FaultKind::Closed => StatusCode::GONE,
        FaultKind::Clash | FaultKind::InUse => StatusCode::CONFLICT,
        FaultKind::WrongKind
        | FaultKind::UnknownOption
        | FaultKind::TooLong
        | FaultKind::Missing
        | FaultKind::ReadOnly
        | FaultKind::BadRule => StatusCode::UNPROCESSABLE_ENTITY,
    }
}

impl From<Faults> for Problem {
    fn from(Faults(faults): Faults) -> Self {
        // What does not exist hides everything else; a clash is next.
        let first = |status| faults.iter().find(|f| status_of(f.kind) == status && f.pointer.is_empty());
        let main = first(StatusCode::NOT_FOUND).or_else(|| faults.iter().find(|f| f.kind == FaultKind::Clash)).or(faults.first());
        let status = main.map_or(StatusCode::UNPROCESSABLE_ENTITY, |f| status_of(f.kind));
        let detail = main.map_or_else(String::new, |f| f.message.clone());
        Self { status, refusal: None, detail, faults, again: None }
    }
}

impl From<Fault> for Problem {
    fn from(fault: Fault) -> Self {
        Faults::from(fault).into()
    }
}

impl Problem {
    /// All that it says, in one line.
    pub fn told(&self) -> String {
        let messages: Vec<&str> = self.faults.iter().map(|f| f.message.as_str()).collect();
        if messages.is_empty() { self.detail.clone() } else { messages.join(" ") }
    }
}

impl Problem {
    /// The same to somebody who sent answers: how many of them need another look, where it is answers that are wrong.
    #[must_use]
    pub(crate) fn of_answers(mut self) -> Self {
        let of_answer = |fault: &Fault| ["/answers/", "/lines/"].iter().any(|place| fault.pointer.starts_with(place));
        if !self.faults.is_empty() && self.faults.iter().all(of_answer) {
            let places: BTreeSet<&str> = self.faults.iter().map(|fault| fault.pointer.as_str()).collect();
            let counted = if places.len() == 1 { "one answer needs".to_owned() } else { format!("{} answers need", places.len()) };
            self.detail = format!("Nothing was sent yet: {counted} another look.");
        }
        self
    }
}

impl From<StoreError> for Problem {
    fn from(error: StoreError) -> Self {
        Self::from_store(&error)
    }
}

impl IntoResponse for Problem {
    fn into_response(self) -> Response {
        let body = ProblemBody {
            r#type: "about:blank",
            title: self.status.canonical_reason().unwrap_or("Problem"),
            status: self.status.as_u16(),
            refusal: self.refusal,
            detail: self.detail,
            faults: self.faults,
        };
        let mut response = (self.status, axum::Json(body)).into_response();
        response.headers_mut().insert(header::CONTENT_TYPE, HeaderValue::from_static("application/problem+json"));
        if let Some(seconds) = self.again {
            response.headers_mut().insert(header::RETRY_AFTER, HeaderValue::from(seconds));
        }
        response
    }
}

/// JSON in and out, whose refusals are problems.
#[derive(Debug)]
pub struct Json<T>(pub T);

impl<T: Serialize> IntoResponse for Json<T> {
    fn into_response(self) -> Response {
        axum::Json(self.0).into_response()
    }
}

impl<S: Send + Sync, T: DeserializeOwned> FromRequest<S> for Json<T> {
    type Rejection = Problem;

    async fn from_request(request: Request, state: &S) -> Result<Self, Problem> {
        let (parts, body) = request.into_parts();
        let bytes = axum::body::Bytes::from_request(Request::from_parts(parts.clone(), body), state).await;
        let bytes = bytes.map_err(|rejection| match rejection.status() {
            StatusCode::PAYLOAD_TOO_LARGE => Refusal::TooMuch,
            _ => Refusal::Unreadable,
        })?;
        if holds_zero(&bytes) {
            return Err(Refusal::HoldsZero.into());
        }
        let request = Request::from_parts(parts, bytes.into());
        match axum::Json::<T>::from_request(request, state).await {
            Ok(axum::Json(value)) => Ok(Self(value)),
            Err(rejection) => Err(match &rejection {
                JsonRejection::JsonSyntaxError(_) => Refusal::NotJson.into(),
                JsonRejection::MissingJsonContentType(_) => Refusal::NotSentAsJson.into(),
                JsonRejection::JsonDataError(error) => {
                    // The cause names the place and what was expected there: ours to show, since it speaks of our own API.
                    let cause = std::error::Error::source(error).map(ToString::to_string).unwrap_or_default();
                    Refusal::WrongShape.saying(format!("What was sent has the wrong shape: {cause}."))
                }
                _ => Refusal::Unreadable.into(),
            }),
        }
    }
}

/// Whether a text within JSON holds the character zero, which the database keeps in no text.
pub fn holds_zero(json: &[u8]) -> bool {
    const ESCAPE: &[u8] = br"\u0000";
    let escapes = json.windows(ESCAPE.len()).enumerate().filter(|(_, part)| *part == ESCAPE);
    // A backslash before it makes it a backslash and four noughts.
    escapes.into_iter().any(|(at, _)| json[..at].iter().rev().take_while(|byte| **byte == b'\\').count() % 2 == 0)
}

/// The variable parts of an address, whose refusals are "not found".
#[derive(Debug)]
pub struct Path<T>(pub T);

impl<S: Send + Sync, T: DeserializeOwned + Send> FromRequestParts<S> for Path<T> {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Problem> {
        let found = axum::extract::Path::<T>::from_request_parts(parts, state).await;
        found.map(|p| Self(p.0)).map_err(|_| Fault::not_found("page").into())
    }
}

/// The part of an address after `?`.
#[derive(Debug)]
pub struct Query<T>(pub T);

impl<S: Send + Sync, T: DeserializeOwned + Send> FromRequestParts<S> for Query<T> {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Problem> {
        let found = axum::extract::Query::<T>::from_request_parts(parts, state).await;
        found.map(|q| Self(q.0)).map_err(|_| Refusal::AddressUnreadable.into())
    }
}
