//! The API: each handler reads what was sent, calls one function of the job, and gives back its answer. No rules here.

mod access;
mod again;
mod areas;
mod automations;
mod awaited;
mod blocks;
mod bulk;
mod calendars;
mod crosstabs;
mod dashboards;
mod described;
mod documents;
mod drafts;
mod entrance;
mod events;
mod exports;
mod files;
mod find;
mod forms;
mod formulas;
mod highlights;
mod home;
mod imports;
mod inbox;
mod look;
mod opt_outs;
mod orders;
mod packages;
mod pages;
mod parts;
mod passkeys;
mod people;
mod places;
mod portraits;
mod post;
mod presence;
mod public;
mod records;
mod rounds;
mod seen;
mod sites;
mod start;
mod summaries;
mod tables;
mod talk;
mod team;
mod telling;
mod trackers;
mod views;

use crate::{
    app::App,
    limits::{Client, limit},
    problem::Problem,
    refusal::Refusal,
    uploads::IMPORT_LIMIT,
    web,
};
use axum::{
    Router,
    extract::{DefaultBodyLimit, Request, State},
    http::{HeaderValue, StatusCode, header},
    middleware::{self, Next},
    response::{IntoResponse, Response},
    routing::get,
};
use std::{sync::Arc, time::Duration};
use tower_http::{
    catch_panic::CatchPanicLayer,
    compression::{
        CompressionLayer,
        predicate::{DefaultPredicate, NotForContentType, Predicate},
    },
    request_id::{MakeRequestUuid, PropagateRequestIdLayer, SetRequestIdLayer},
    services::ServeDir,
    set_header::SetResponseHeaderLayer,
    trace::TraceLayer,
};
use utoipa::OpenApi;
use utoipa_axum::{router::OpenApiRouter, routes};
use westerfall_core::condition;

/// Largest request without files, in bytes.
const BODY_LIMIT: usize = 2 * 1024 * 1024;
/// How long a request with files may take.
const UPLOAD_TIME: Duration = Duration::from_secs(600);
/// Largest request with files, in bytes.
const UPLOAD_LIMIT: usize = 40 * 1024 * 1024;

#[derive(OpenApi)]
#[openapi(
    info(title = "Westerfall", description = "The API of Westerfall. Faults are RFC 9457 problem details."),
    // These are recursive, so that the parts they are made of have to be named.
    components(schemas(
        crate::problem::ProblemBody,
        condition::Condition,
        condition::Test,
        condition::Quantity,
        condition::Check,
        condition::TextMatch,
        condition::Comparison,
        condition::When,
        condition::Period,
        condition::Who,
        westerfall_core::schema::Kind,
        westerfall_core::schema::Link,
        westerfall_core::schema::NumberPart,
        westerfall_core::schema::Restart,
        westerfall_core::schema::Choice,
        westerfall_core::schema::Hue,
        westerfall_core::schema::Summary,
        westerfall_core::figure::Figure,
        westerfall_core::form::LinesView,
        westerfall_core::form::QuestionView,
        westerfall_core::form::Total,
        westerfall_core::formula::Formula,
        westerfall_core::why::Because
    ))
)]
struct Description;

/// What signing in needs.
fn signing_routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(passkeys::begin_in))
        .routes(routes!(passkeys::come_in))
        .routes(routes!(people::sign_in))
        .routes(routes!(people::sign_in_to_demo))
        .routes(routes!(entrance::begin))
        .routes(routes!(entrance::invitation, entrance::come_in))
        .routes(routes!(entrance::forgotten))
        .routes(routes!(entrance::password, entrance::renew_password))
        .routes(routes!(entrance::code))
        .routes(routes!(entrance::sign_in_by_code))
        .routes(routes!(entrance::confirm_address))
        .routes(routes!(public::pages::code))
        .routes(routes!(public::pages::enter))
}

/// What public forms take: done once, not again and again.
fn sending_routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(public::send::send)).layer(DefaultBodyLimit::max(UPLOAD_LIMIT))
}

/// What respondents look at while they answer.
fn open_routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(public::form))
        .routes(routes!(public::look))
        .routes(routes!(public::offered))
        .routes(routes!(public::send::call))
        .routes(routes!(public::count))
        .routes(routes!(public::pictures::picture))
        .routes(routes!(public::pictures::qr))
        .routes(routes!(public::mark::mark))
        .routes(routes!(calendars::live))
        .routes(routes!(public::follow::follow, public::follow::amend))
        .routes(routes!(public::follow::follow_live))
        .routes(routes!(public::replies::reply, public::replies::answer))
        .routes(routes!(public::opt_outs::opt_out, public::opt_outs::say))
        .routes(routes!(public::pages::page))
        .routes(routes!(public::pages::rows))
        .routes(routes!(public::pages::days))
        .routes(routes!(public::pages::crossed))
        .routes(routes!(public::pages::names))
        .merge(
            OpenApiRouter::new()
                .routes(routes!(public::pages::add))
                .routes(routes!(public::pages::edit, public::pages::remove))
                .layer(DefaultBodyLimit::max(UPLOAD_LIMIT)),
        )
        .routes(routes!(public::pages::leave))
        .routes(routes!(public::pages::file))
        .routes(routes!(public::pages::qr))
        .routes(routes!(public::pages::events))
}

/// What people use who are signed in.
fn signed_routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(entrance::entrance))
        .routes(routes!(people::me, people::sign_out, people::change_own))
        .routes(routes!(people::change_address))
        .routes(routes!(people::change_password))
        .routes(routes!(people::sessions))
        .routes(routes!(people::end_session))
        .routes(routes!(access::rehearse))
        .routes(routes!(team::show, team::rename))
        .routes(routes!(opt_outs::list, opt_outs::say))
        .routes(routes!(team::log))
        .routes(routes!(look::keep))
        .routes(routes!(look::sending))
        .routes(routes!(portraits::show))
        .routes(routes!(portraits::take_away))
        .routes(routes!(team::undo))
        .routes(routes!(team::let_in))
        .routes(routes!(team::change))
        .routes(routes!(team::stand))
        .routes(routes!(team::holdings))
        .routes(routes!(team::invite, team::take_back))
        .routes(routes!(team::make_group))
        .routes(routes!(team::save_group, team::drop_group))
        .routes(routes!(people::demo_people))
        .routes(routes!(people::stand_in, people::may_stand_in))
        .routes(routes!(trackers::list, start::start))
        .routes(routes!(passkeys::list, passkeys::add))
        .routes(routes!(passkeys::begin))
        .routes(routes!(passkeys::remove))
        .routes(routes!(trackers::others))
        .routes(routes!(home::home))
        .routes(routes!(home::keep_on_top))
        .routes(routes!(areas::list, areas::make, areas::order))
        .routes(routes!(areas::save, areas::remove))
        .routes(routes!(areas::rehearse))
        .routes(routes!(areas::place))
        .routes(routes!(start::templates))
        .routes(routes!(start::template, start::withdraw))
        .routes(routes!(start::publish))
        .routes(routes!(exports::export))
        .routes(routes!(awaited::how_far, awaited::stop))
        .routes(routes!(calendars::list))
        .routes(routes!(calendars::make))
        .routes(routes!(calendars::withdraw))
        .routes(routes!(packages::package))
        .routes(routes!(trackers::show, trackers::rename))
        .routes(routes!(trackers::stage))
        .routes(routes!(trackers::groundplan))
        .routes(routes!(trackers::undo))
        .routes(routes!(views::query))
        .routes(routes!(views::slices))
        .routes(routes!(views::list))
        .routes(routes!(views::days))
        .routes(routes!(dashboards::list, dashboards::make))
        .routes(routes!(dashboards::look))
        .routes(routes!(dashboards::narrowed))
        .routes(routes!(dashboards::open, dashboards::keep, dashboards::remove))
        .routes(routes!(dashboards::seen))
        .routes(routes!(documents::list))
        .routes(routes!(documents::preview))
        .routes(routes!(documents::show))
        .routes(routes!(documents::print))
        .routes(routes!(documents::print_laid_out))
        .routes(routes!(documents::keep))
        .routes(routes!(crosstabs::crossed))
        .routes(routes!(crosstabs::cell))
        .routes(routes!(views::slip))
        .routes(routes!(orders::order))
        .routes(routes!(orders::move_view))
        .routes(routes!(orders::place_lines))
        .routes(routes!(views::hits))
        .routes(routes!(find::find))
        .routes(routes!(find::everywhere))
        .routes(routes!(find::numbered))
        .routes(routes!(highlights::list))
        .routes(routes!(highlights::move_to))
        .routes(routes!(highlights::rehearse))
        .routes(routes!(highlights::why))
        .routes(routes!(highlights::copy))
        .routes(routes!(parts::make))
        .routes(routes!(parts::save, parts::drop))
        .routes(routes!(parts::look))
        .routes(routes!(records::add, records::edit_several, records::remove))
        .routes(routes!(bulk::rehearse))
        .routes(routes!(bulk::change))
        .routes(routes!(records::rehearse))
        .routes(routes!(blocks::put))
        .routes(routes!(blocks::rehearse))
        .routes(routes!(blocks::sums))
        .routes(routes!(records::like))
        .routes(routes!(records::show, records::edit))
        .routes(routes!(records::trail))
        .routes(routes!(records::as_it_was))
        .routes(routes!(records::put_back))
        .routes(routes!(again::rehearse_again))
        .routes(routes!(again::again))
        .routes(routes!(again::keep_recipes))
        .routes(routes!(again::doubles))
        .routes(routes!(again::rehearse_merge))
        .routes(routes!(again::merge))
        .routes(routes!(again::bin))
        .routes(routes!(again::rehearse_bin))
        .routes(routes!(again::empty_bin))
        .routes(routes!(again::bring_back))
        .routes(routes!(presence::attend))
        .routes(routes!(drafts::list))
        .routes(routes!(drafts::begin))
        .routes(routes!(drafts::show, drafts::change, drafts::drop))
        .routes(routes!(drafts::add))
        .routes(routes!(drafts::files))
        .routes(routes!(drafts::lines))
        .routes(routes!(drafts::change_lines))
        .routes(routes!(talk::talk, talk::say))
        .routes(routes!(talk::change, talk::take_back))
        .routes(routes!(talk::whom))
        .routes(routes!(talk::attend))
        .routes(routes!(records::left))
        .routes(routes!(records::press))
        .routes(routes!(records::following))
        .routes(routes!(records::names))
        .routes(routes!(records::offered))
        .routes(routes!(records::read))
        .routes(routes!(tables::make))
        .routes(routes!(tables::change, tables::remove))
        .routes(routes!(access::why))
        .routes(routes!(access::give))
        .routes(routes!(access::rehearse_giving))
        .routes(routes!(tables::arrangement, tables::arrange))
        .routes(routes!(tables::change_talk_for))
        .routes(routes!(tables::change_mine))
        .routes(routes!(tables::rehearse_mine))
        .routes(routes!(tables::restore))
        .routes(routes!(tables::design))
        .routes(routes!(tables::bin))
        .routes(routes!(tables::add_field))
        .routes(routes!(tables::change_field, tables::remove_field, tables::step_field))
        .routes(routes!(tables::change_kind))
        .routes(routes!(tables::propose_links))
        .routes(routes!(formulas::help))
        .routes(routes!(formulas::vocabulary))
        .routes(routes!(formulas::try_formula))
        .routes(routes!(formulas::make))
        .routes(routes!(formulas::change))
        .routes(routes!(summaries::make))
        .routes(routes!(summaries::change))
        .routes(routes!(summaries::attempt))
        .routes(routes!(formulas::why))
        .routes(routes!(formulas::because))
        .routes(routes!(forms::show))
        .routes(routes!(forms::list))
        .routes(routes!(forms::answers))
        .routes(routes!(forms::ways))
        .routes(routes!(forms::try_way))
        .routes(routes!(pages::list))
        .routes(routes!(pages::show))
        .routes(routes!(pages::shown_by))
        .routes(routes!(access::list))
        .routes(routes!(access::words))
        .routes(routes!(automations::list))
        .routes(routes!(automations::texts))
        .routes(routes!(automations::runs))
        .routes(routes!(automations::rehearse))
        .routes(routes!(automations::trial))
        .routes(routes!(automations::by_hand))
        .routes(routes!(automations::run))
        .routes(routes!(automations::rehearse_run))
        .routes(routes!(automations::messages))
        .routes(routes!(automations::send_again))
        .routes(routes!(inbox::inbox))
        .routes(routes!(inbox::unread))
        .routes(routes!(inbox::read))
        .routes(routes!(inbox::answer))
        .routes(routes!(inbox::wish))
        .routes(routes!(rounds::rounds))
        .routes(routes!(rounds::give))
        .routes(routes!(rounds::step))
        .routes(routes!(rounds::rule, rounds::say_rule))
        .routes(routes!(post::post_room))
        .routes(routes!(post::page))
        .routes(routes!(post::enclosed))
        .routes(routes!(post::enclosure))
        .routes(routes!(events::events))
        .routes(routes!(files::file))
        .routes(routes!(files::attach))
        .routes(routes!(files::turn))
        .routes(routes!(files::begin))
        .routes(routes!(files::piece))
        .routes(routes!(files::how_far, files::stop))
        .routes(routes!(imports::guess))
        .routes(routes!(telling::tell))
        .routes(routes!(imports::import))
        .routes(routes!(imports::refused))
        .merge(
            OpenApiRouter::new()
                .routes(routes!(imports::upload))
                .routes(routes!(packages::take))
                .layer(DefaultBodyLimit::max(IMPORT_LIMIT + 1_000_000)),
        )
        .merge(
            OpenApiRouter::new()
                .routes(routes!(forms::picture))
                .routes(routes!(look::mark))
                .routes(routes!(portraits::give))
                .layer(DefaultBodyLimit::max(UPLOAD_LIMIT)),
        )
}

/// The description of the API, from the code.
pub fn description() -> utoipa::openapi::OpenApi {
    let (_, mut api) = OpenApiRouter::with_openapi(Description::openapi())
        .merge(signing_routes())
        .merge(sending_routes())
        .merge(open_routes())
        .merge(signed_routes())
        .split_for_parts();
    for item in api.paths.paths.values_mut() {
        let operations = [&mut item.get, &mut item.post, &mut item.put, &mut item.patch, &mut item.delete];
        operations.into_iter().flatten().for_each(described::complete);
    }
    described::keys_are_text(&mut api);
    api
}

/// Everything that this server answers.
pub fn router(app: App) -> Router {
    let burst = app.settings.burst.max(1);
    let client = Client::behind(&app.settings);
    // Signing in, sending and looking are counted apart: who guesses passwords closes no form to others.
    let signing = limit(signing_routes().into(), client, 500, burst);
    let sending = limit(sending_routes().into(), client, 500, burst);
    // Looking again with each letter is how a form is answered.
    // A press in a mail program posts to where its reader would look.
    let press = Router::new().route("/opt-out/{token}", get(web::page).post(public::opt_outs::one_press));
    let open = limit(Router::from(open_routes()).merge(press), client, 50, burst.saturating_mul(10));
    let signed: Router<App> = signed_routes().into();
    let described = Arc::new(description());
    let api = signing
        .merge(sending)
        .merge(open)
        .merge(signed)
        .route("/api/openapi.json", get(move || async move { axum::Json((*described).clone()) }))
        .route("/api/{*rest}", axum::routing::any(|| async { Problem::from(Refusal::NoAddress) }))
        .layer(DefaultBodyLimit::max(BODY_LIMIT))
        .layer(SetResponseHeaderLayer::if_not_present(header::X_FRAME_OPTIONS, HeaderValue::from_static("DENY")));
    let pages = Router::new()
        .route("/healthz", get(|| async { "alive" }))
        .route("/readyz", get(ready))
        .route("/metrics", get(crate::metrics::metrics))
        .nest_service("/assets", ServeDir::new(app.settings.web.join("assets")).precompressed_gzip())
        .fallback(get(web::page));
    let long_lived = SetResponseHeaderLayer::if_not_present(header::CACHE_CONTROL, cache_control as fn(&Response) -> Option<HeaderValue>);
    let mut service = api.merge(pages).with_state(app.clone());
    for (name, value) in web::EVERYWHERE {
        service = service.layer(SetResponseHeaderLayer::if_not_present(name, value));
    }
    if app.settings.is_secure() {
        service = service.layer(SetResponseHeaderLayer::if_not_present(header::STRICT_TRANSPORT_SECURITY, web::SECURE));
    }
    // From the outside in: a request gets its id, then is traced under it and counted; what is refused for where it comes from
    // costs nothing more; panics and what takes too long are answered the same for all. Live events are not compressed: that
    // would hold them back.
    let compressible = DefaultPredicate::new().and(NotForContentType::new("text/event-stream")).and(NotForContentType::new("image/"));
    service
        .layer(long_lived)
        .layer(CompressionLayer::new().compress_when(compressible))
        .layer(middleware::from_fn_with_state(app.clone(), seen::in_order))
        .layer(middleware::from_fn_with_state(app.clone(), in_time))
        .layer(CatchPanicLayer::custom(fell_over))
        .layer(middleware::from_fn_with_state(app.clone(), sites::own_only))
        .layer(middleware::from_fn_with_state(app.clone(), sites::own_host))
        .layer(middleware::from_fn(shaped))
        .layer(middleware::from_fn(crate::metrics::count))
        .layer(PropagateRequestIdLayer::x_request_id())
        .layer(TraceLayer::new_for_http())
        .layer(SetRequestIdLayer::x_request_id(MakeRequestUuid))
}

/// Answers of the API are never kept by browsers; built files are named by their content and so may be kept for good.
fn cache_control(response: &Response) -> Option<HeaderValue> {
    let kind = response.headers().get(header::CONTENT_TYPE).and_then(|v| v.to_str().ok()).unwrap_or_default();
    let built = ["text/javascript", "text/css", "font/"].iter().any(|built| kind.starts_with(built));
    Some(HeaderValue::from_static(if built { "public, max-age=31536000, immutable" } else { "no-store" }))
}

async fn ready(State(app): State<App>) -> Response {
    if app.store.is_ready().await { "ready".into_response() } else { StatusCode::SERVICE_UNAVAILABLE.into_response() }
}

/// A handler that panics answers like any other fault of ours; what it said is for the log alone.
fn fell_over(panic: Box<dyn std::any::Any + Send + 'static>) -> Response {
    let said = panic.downcast_ref::<String>().map(String::as_str).or_else(|| panic.downcast_ref::<&str>().copied());
    Problem::internal(said.unwrap_or("a handler fell over")).into_response()
}

/// Ends what takes too long. What was begun may go on, and may be kept.
async fn in_time(State(app): State<App>, request: Request, next: Next) -> Response {
    let reads = request.method().is_safe();
    // Large files come slowly over slow lines; each piece of them has its own limit.
    let uploads = request.headers().get(header::CONTENT_TYPE).is_some_and(|v| v.as_bytes().starts_with(b"multipart/"));
    let most = if uploads { UPLOAD_TIME } else { app.settings.request_time };
    match tokio::time::timeout(most, next.run(request)).await {
        Ok(response) => response,
        Err(_) if reads => Problem::unavailable("a request took too long").into_response(),
        Err(_) => Problem::unknown("a request took too long").into_response(),
    }
}

/// Refusals that come from below us (a body over its limit, one of another sort, a method that is not there) take our shape.
async fn shaped(request: Request, next: Next) -> Response {
    let is_api = request.uri().path().starts_with("/api/");
    // Nothing has the character zero in its name, and the database can't even be asked.
    if is_api && request.uri().path().contains("%00") {
        return Problem::from(Refusal::NoAddress).into_response();
    }
    let response = next.run(request).await;
    let is_problem = response.headers().get(header::CONTENT_TYPE).is_some_and(|v| v == "application/problem+json");
    if !is_api || is_problem {
        return response;
    }
    match response.status() {
        StatusCode::PAYLOAD_TOO_LARGE => Problem::from(Refusal::TooMuch).into_response(),
        StatusCode::METHOD_NOT_ALLOWED => Problem::from(Refusal::NotThisWay).into_response(),
        status if status.is_client_error() => Problem::from(Refusal::Unreadable).into_response(),
        _ => response,
    }
}

/// How long a live connection may be silent before something is sent to keep it.
const KEEP_ALIVE: Duration = Duration::from_secs(15);

/// The key under which something sent twice is done once, if the sender gave one.
fn idempotency_key(headers: &axum::http::HeaderMap) -> Result<Option<String>, Problem> {
    let Some(value) = headers.get("idempotency-key") else { return Ok(None) };
    match value.to_str() {
        Ok(key) if !key.is_empty() && key.len() <= 200 => Ok(Some(key.to_owned())),
        _ => Err(Refusal::BadKey.into()),
    }
}
