//! The program: reads its settings, opens the store, serves until told to stop.

use std::net::SocketAddr;
use tokio::net::TcpListener;
use westerfall_server::{
    api,
    app::App,
    call_room, calling,
    config::{Options, StandIns},
    demo, message_room, mornings, post_room, reading, running, serve, uploads, ways, worker,
};
use westerfall_store::{Files, Store};

/// What large files took is given back to the system when they are done with: the system's own allocator keeps it.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

#[tokio::main]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let options = Options::read()?;
    if options.print_openapi {
        println!("{}", api::description().to_pretty_json()?);
        return Ok(());
    }
    if let Some(sheet) = options.read_sheet {
        return Ok(uploads::read_sheet(sheet)?);
    }
    if options.read_words {
        return Ok(reading::read_words()?);
    }
    tracing_subscriber::fmt()
        .with_env_filter(tracing_subscriber::EnvFilter::try_from_default_env().unwrap_or_else(|_| "info,tower_http=warn".into()))
        .init();
    let url = options.database_url.as_deref().ok_or("say where the database is: --database-url or WESTERFALL_DATABASE_URL")?;
    let store = Store::open(url).await?;
    let files = Files::at(&options.files)?;
    let listener = TcpListener::bind(SocketAddr::new(options.bind, options.port)).await?;
    let address = listener.local_addr()?;
    let door = ways::Door::default();
    let post_room = post_room::open(store.clone(), options.mail_in, options.mail_in_size, door.clone())?;
    let call_room = call_room::open(store.clone()).await?;
    let message_room = message_room::open(store.clone()).await?;
    let settings = options.settings(address, StandIns { post_room, call_room, message_room })?;
    let app = App::open(store, files, settings).await?;
    let _ = door.set(app.clone());
    if options.demo {
        demo::load(&app, options.scale).await?;
    }
    app.listen();
    worker::start(app.clone())?;
    running::start(app.clone());
    calling::start(app.clone())?;
    mornings::start(app.clone());
    reading::start(app.clone());
    if let Some(address) = app.beginning().await? {
        println!("Begin your team here, once: {address}");
    }
    println!("Westerfall listens on http://{address}, its post room on smtp://{post_room}");
    serve::serve(listener, api::router(app), stopped()).await;
    Ok(())
}

/// Until Ctrl-C or a polite request to end.
async fn stopped() {
    let mut terminate = tokio::signal::unix::signal(tokio::signal::unix::SignalKind::terminate()).expect("signals can be heard");
    tokio::select! {
        _ = tokio::signal::ctrl_c() => {}
        _ = terminate.recv() => {}
    }
}
