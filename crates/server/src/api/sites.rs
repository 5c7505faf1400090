//! What pages of other sites may do here: nothing, but for the forms that name their site.

use crate::refusal::Refusal;
use crate::{app::App, problem::Problem};
use axum::{
    extract::{Request, State},
    http::{HeaderMap, HeaderName, HeaderValue, Method, StatusCode, header},
    middleware::Next,
    response::{IntoResponse, Response},
};

/// How long a browser may remember what it asked beforehand, in seconds.
const REMEMBERED: HeaderValue = HeaderValue::from_static("600");

/// Changes come from our own pages only: a page elsewhere can't send them with somebody's cookie. A form can also be read and
/// answered by the pages of the sites that may show it; nobody is signed in there.
pub(super) async fn own_only(State(app): State<App>, request: Request, next: Next) -> Response {
    if let Some((link, site)) = asked_from(&request)
        && app.welcome_sites(&link).await.iter().any(|welcome| welcome.as_bytes() == site.as_bytes())
    {
        let asks = *request.method() == Method::OPTIONS;
        let mut response = if asks { StatusCode::NO_CONTENT.into_response() } else { next.run(request).await };
        response.headers_mut().extend(permissions(site));
        return response;
    }
    if is_foreign_change(&request) {
        return Problem::from(Refusal::OtherSite).into_response();
    }
    next.run(request).await
}

/// The form that is asked for, and the site whose page asks.
fn asked_from(request: &Request) -> Option<(String, HeaderValue)> {
    let link = request.uri().path().strip_prefix("/api/public/forms/")?.split('/').next()?;
    Some((link.to_owned(), request.headers().get(header::ORIGIN)?.clone()))
}

fn permissions(site: HeaderValue) -> HeaderMap {
    let fixed = |name: HeaderName, value: &'static str| (name, HeaderValue::from_static(value));
    HeaderMap::from_iter([
        (header::ACCESS_CONTROL_ALLOW_ORIGIN, site),
        fixed(header::VARY, "Origin"),
        fixed(header::ACCESS_CONTROL_ALLOW_METHODS, "GET, POST"),
        fixed(header::ACCESS_CONTROL_ALLOW_HEADERS, "content-type, idempotency-key"),
        (header::ACCESS_CONTROL_MAX_AGE, REMEMBERED),
    ])
}

/// Only requests to the host by which people reach this server are answered: a name of somebody else's that leads here brings
/// nobody's cookie along.
pub(super) async fn own_host(State(app): State<App>, request: Request, next: Next) -> Response {
    let path = request.uri().path();
    let asked = request.headers().get(header::HOST).and_then(|v| v.to_str().ok());
    let own = asked.is_none_or(|host| is_own(host, app.settings.host()));
    // Those who watch over this server ask it by its address.
    if own || matches!(path, "/healthz" | "/readyz" | "/metrics") {
        return next.run(request).await;
    }
    Problem::from(Refusal::OtherName).into_response()
}

fn is_own(asked: &str, own: &str) -> bool {
    let bare = |host: &str| host.strip_suffix(":443").or_else(|| host.strip_suffix(":80")).unwrap_or(host).to_ascii_lowercase();
    let local = |host: &str| host.replace("localhost", "127.0.0.1").replace("[::1]", "127.0.0.1");
    bare(asked) == bare(own) || local(&bare(asked)) == local(&bare(own))
}

fn is_foreign_change(request: &Request) -> bool {
    let changes = !matches!(*request.method(), Method::GET | Method::HEAD | Method::OPTIONS);
    let header = |name: &str| request.headers().get(name).and_then(|v| v.to_str().ok());
    let foreign_site = header("sec-fetch-site").is_some_and(|site| !matches!(site, "same-origin" | "none"));
    let foreign_origin = match (header("origin"), header("host")) {
        (Some(origin), Some(host)) => origin.split_once("://").is_none_or(|(_, origin)| origin != host),
        _ => false,
    };
    changes && (foreign_site || foreign_origin)
}
