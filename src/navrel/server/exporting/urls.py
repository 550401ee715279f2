"""The addresses of exports, below `/api/`."""

from django.urls import path

from .views import RevisionFilesView

urlpatterns = [path("sites/<slug:site>/revisions/<int:number>/files.zip", RevisionFilesView.as_view())]
