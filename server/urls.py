"""Addresses: the API, the front end's own pages, and nothing else."""

from django.conf import settings
from django.db import InterfaceError, OperationalError, connection
from django.http import FileResponse, HttpRequest, HttpResponse, JsonResponse
from django.urls import path, re_path
from django.views.decorators.cache import never_cache
from ninja import NinjaAPI

from server import errors
from server.accounts.api import router as accounts
from server.accounts.people import router as people
from server.drawings.annotations import router as annotations
from server.drawings.api import router as drawings
from server.drawings.completeness import router as completeness
from server.drawings.events import router as events
from server.drawings.files import router as files
from server.drawings.findings_api import router as findings
from server.drawings.inspection import router as inspection
from server.drawings.model_sizes import router as model_sizes
from server.drawings.outdated import router as outdated
from server.drawings.parts import router as parts
from server.drawings.pencil_api import router as pencil
from server.drawings.proposal import router as proposal
from server.drawings.revisions_api import router as drawing_revisions
from server.drawings.sheets import router as sheets
from server.drawings.sizes import router as sizes
from server.drawings.tolerances import router as tolerances
from server.drawings.versions import router as drawing_versions
from server.drawings.views import router as views
from server.jobs.api import router as jobs
from server.library.api import router as library
from server.library.materials import router as materials
from server.library.reference import router as reference
from server.library.versions_api import router as versions
from server.parsing import CleanParser
from server.rights import ByRole
from server.styles.api import router as styles
from server.styles.rules import router as rules

api = NinjaAPI(
    title="Moorcrest", version="1", auth=ByRole(), docs_url=None, openapi_url=None, parser=CleanParser()
)
errors.install(api)
api.add_router("", accounts)
api.add_router("", people)
api.add_router("/jobs", jobs)
api.add_router("/models", library)
api.add_router("/models", outdated)
api.add_router("/models", versions)
api.add_router("/drawings", drawings)
api.add_router("/drawings", drawing_versions)
api.add_router("/drawings", drawing_revisions)
api.add_router("/drawings", pencil)
api.add_router("/drawings", events)
api.add_router("/drawings", annotations)
api.add_router("/drawings", tolerances)
api.add_router("/drawings", sheets)
api.add_router("/drawings", completeness)
api.add_router("/drawings", findings)
api.add_router("/drawings", proposal)
api.add_router("/drawings", sizes)
api.add_router("/drawings", model_sizes)
api.add_router("/drawings", files)
api.add_router("/drawings", views)
api.add_router("/drawings", parts)
api.add_router("/materials", materials)
api.add_router("/reference", reference)
api.add_router("/styles", styles)
api.add_router("/rules", rules)
api.add_router("/drawings", inspection)


@never_cache
def page(request: HttpRequest) -> HttpResponse | FileResponse:
    """Every page is the front end; it finds its way by the address."""
    index = settings.FRONT_END / "index.html"
    if not index.exists():
        return HttpResponse(
            "The front end is not built: run ./moorcrest start.", status=503, content_type="text/plain"
        )
    return FileResponse(index.open("rb"), content_type="text/html")


@never_cache
def alive(request: HttpRequest) -> HttpResponse:
    """Whether requests can be answered: the database, too."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
    except (OperationalError, InterfaceError) as error:
        return errors.answer_to(error)
    return JsonResponse({"alive": True})


handler400 = "server.errors.bad_request"
handler403 = "server.errors.forbidden"
handler404 = "server.errors.missing"
handler500 = "server.errors.failed"


urlpatterns = [
    path("api/alive", alive),
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/).*$", page),
]
