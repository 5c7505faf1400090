//! The built interface: four pages and what they load. Everything comes from here; the policy sent along allows nothing else.

use crate::{app::App, secrets::random_hex};
use axum::{
    extract::State,
    http::{HeaderName, HeaderValue, StatusCode, Uri, header},
    response::{Html, IntoResponse, Response},
};

/// Sends a page, with a nonce of its own for the one style element that the theme makes.
pub async fn page(State(app): State<App>, uri: Uri) -> Response {
    // What is at a form's address loads the form alone, and what is at a shared page's that page.
    let (form, shared) = (uri.path().strip_prefix("/f/"), uri.path().strip_prefix("/p/"));
    let name = match shared {
        Some(_) => "page.html",
        None if form.is_some() || uri.path().starts_with("/a/") => "form.html",
        None if uri.path().starts_with("/reply/") || uri.path().starts_with("/opt-out/") => "reply.html",
        None => "index.html",
    };
    let sites = match (form, shared) {
        (Some(link), _) => app.welcome_sites(link).await,
        (None, Some(link)) => app.sites_around(link).await,
        (None, None) => Vec::new(),
    };
    let framed = if sites.is_empty() { "'none'".to_owned() } else { sites.join(" ") };
    let Ok(html) = tokio::fs::read_to_string(app.settings.web.join(name)).await else {
        return (StatusCode::NOT_FOUND, "The interface is not built. Run `npm run build` in web/.").into_response();
    };
    let nonce = random_hex(16);
    let policy = format!(
        "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-{nonce}'; style-src-attr 'unsafe-inline'; img-src 'self' blob: data:; font-src 'self'; \
         connect-src 'self'; media-src 'self'; frame-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors {framed}"
    );
    let mut response = Html(html.replace("__NONCE__", &nonce)).into_response();
    let headers = response.headers_mut();
    if let Ok(policy) = HeaderValue::from_str(&policy) {
        headers.insert(header::CONTENT_SECURITY_POLICY, policy);
    }
    headers.insert(header::CACHE_CONTROL, HeaderValue::from_static("no-store"));
    if sites.is_empty() {
        headers.insert(header::X_FRAME_OPTIONS, HeaderValue::from_static("DENY"));
    }
    response
}

/// Behind HTTPS: browsers come by nothing else for half a year.
pub const SECURE: HeaderValue = HeaderValue::from_static("max-age=15552000");

/// Headers that every answer carries.
pub const EVERYWHERE: [(HeaderName, HeaderValue); 2] = [
    (header::X_CONTENT_TYPE_OPTIONS, HeaderValue::from_static("nosniff")),
    (header::REFERRER_POLICY, HeaderValue::from_static("same-origin")),
];
