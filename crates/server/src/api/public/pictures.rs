//! What is drawn of a form: its pictures, and its address to be scanned.

use super::{At, form_of};
use crate::{
    app::App,
    problem::{Path, Problem},
};
use axum::{
    extract::State,
    http::{HeaderValue, header},
    response::{IntoResponse, Response},
};
use image::{ImageFormat, Luma};
use qrcode::{EcLevel, QrCode, render::svg};
use std::io::Cursor;
use westerfall_core::fault::{Fault, FaultKind};

/// Pixels of each square of a QR code.
const QR_SCALE: u32 = 12;

/// A picture of a form: `head` or `mark`.
#[utoipa::path(get, path = "/api/public/forms/{link}/pictures/{which}", params(("link" = String, Path), ("which" = String, Path)), responses((status = 200, body = Vec<u8>, content_type = "image/jpeg")))]
pub(in crate::api) async fn picture(State(app): State<App>, Path((link, which)): Path<(String, String)>) -> Result<Response, Problem> {
    let at = At::of(&app, &link).await?;
    let look = at.look()?;
    let unknown = || Problem::from(Fault::not_found("picture"));
    let of = &form_of(&look, at.form)?.appearance;
    let id = match which.as_str() {
        "head" => of.picture.clone(),
        // One of its own, or the team’s.
        "mark" => of.mark.clone().or_else(|| app.team.now().face().look.mark.as_ref().map(|mark| mark.id.clone())),
        _ => None,
    };
    let id = id.ok_or_else(unknown)?;
    kept(&app, &id).await
}

/// A picture that was drawn by us and is open to everybody.
pub(in crate::api) async fn kept(app: &App, id: &str) -> Result<Response, Problem> {
    let bytes = app.files.get(id).await?.ok_or_else(|| Problem::from(Fault::not_found("picture")))?;
    let media = if bytes.starts_with(b"\x89PNG") { "image/png" } else { "image/jpeg" };
    Ok(shown(media, bytes.to_vec()))
}

fn shown(media: &'static str, bytes: Vec<u8>) -> Response {
    let mut response = bytes.into_response();
    response.headers_mut().insert(header::CONTENT_TYPE, HeaderValue::from_static(media));
    response.headers_mut().insert(header::CONTENT_SECURITY_POLICY, HeaderValue::from_static("default-src 'none'; sandbox"));
    response
}

/// A form's address, with these parameters, as a QR code: SVG, or PNG for an address that ends in `.png`.
#[utoipa::path(get, path = "/api/public/forms/{link}/qr/{file}", params(("link" = String, Path), ("file" = String, Path)), responses((status = 200, body = Vec<u8>, content_type = "image/svg+xml")))]
pub(in crate::api) async fn qr(
    State(app): State<App>,
    Path((link, file)): Path<(String, String)>,
    uri: axum::http::Uri,
) -> Result<Response, Problem> {
    At::of(&app, &link).await?;
    let query = uri.query().map_or_else(String::new, |query| format!("?{query}"));
    qr_code(&format!("{}/f/{link}{query}", app.settings.public_url), &file)
}

/// An address to be scanned.
pub(super) fn qr_code(address: &str, file: &str) -> Result<Response, Problem> {
    let long = |_| Problem::from(Fault::new(FaultKind::TooLong, "This address is too long for a QR code."));
    let code = QrCode::with_error_correction_level(address.as_bytes(), EcLevel::M).map_err(long)?;
    match file {
        "code.svg" => Ok(shown("image/svg+xml", code.render::<svg::Color<'_>>().min_dimensions(240, 240).build().into_bytes())),
        "code.png" => Ok(shown("image/png", drawn(&code)?)),
        _ => Err(Fault::not_found("picture").into()),
    }
}

/// A QR code as a PNG, with the quiet margin that readers need.
fn drawn(code: &QrCode) -> Result<Vec<u8>, Problem> {
    let picture = code.render::<Luma<u8>>().module_dimensions(QR_SCALE, QR_SCALE).build();
    let mut bytes = Cursor::new(Vec::new());
    picture.write_to(&mut bytes, ImageFormat::Png).map_err(|_| Problem::internal("a QR code could not be drawn"))?;
    Ok(bytes.into_inner())
}
